import { Suspense } from 'react'
import { type Period, startOfDay } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { listCampaigns } from '@/data/workspace'
import { freshAlarms } from '@/server/signals/latestAlarms'
import { describeResults } from '@/server/signals/results'
import { Alarms, AlarmsAwaited } from '@/ui/results/Alarms'
import { ResultsScreen } from '@/ui/results/ResultsScreen'
import { readAddress, type Search, workspaceHere } from '../frame'
import { Station } from '../Station'
import { mapResult, previewDefinition, saveResult } from './actions'

export const dynamic = 'force-dynamic'

/** Worked out beside the page, which does not wait for it. */
async function AlarmsOf({
  workspace,
  period,
  zone,
  now,
}: {
  workspace: string
  period: Period
  zone: string
  now: number
}) {
  const [from, to] = [startOfDay(period.from, zone), startOfDay(period.to + 1, zone)]
  const alarms = (await freshAlarms(workspace, now)).filter(
    alarm => alarm.until === null || (alarm.since < to && alarm.until > from),
  )
  return <Alarms alarms={alarms} zone={zone} />
}

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const workspace = await workspaceHere()
  const { period } = await readAddress(await searchParams)
  const now = Date.now()
  const { currency, time_zone } = workspace.settings
  return (
    <Station search={await searchParams}>
      <ResultsScreen
        described={await describeResults(sharedDatabase(), workspace, now)}
        currency={currency}
        rules={workspace.settings}
        now={now}
        zone={time_zone}
        actions={{ save: saveResult, preview: previewDefinition, map: mapResult }}
        campaigns={await listCampaigns(sharedDatabase(), workspace.id)}
        alarms={
          <Suspense fallback={<AlarmsAwaited />}>
            <AlarmsOf workspace={workspace.id} period={period} zone={time_zone} now={now} />
          </Suspense>
        }
      />
    </Station>
  )
}
