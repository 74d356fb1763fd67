import { Suspense } from 'react'
import { DAY_MS } from '@/core/shared/days'
import { sharedDatabase } from '@/data/connect'
import { listCampaigns } from '@/data/workspace'
import { freshAlarms } from '@/server/signals/latestAlarms'
import { describeResults } from '@/server/signals/results'
import { Alarms, AlarmsAwaited } from '@/ui/results/Alarms'
import { ResultsScreen } from '@/ui/results/ResultsScreen'
import { type Search, workspaceHere } from '../frame'
import { Station } from '../Station'
import { mapResult, previewDefinition, saveResult } from './actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Results' }

/** For so long what has ended is still told. */
const TOLD_DAYS = 28

/** Worked out beside the page, which does not wait for it. */
async function AlarmsOf({ workspace, zone, now }: { workspace: string; zone: string; now: number }) {
  const { alarms, ...watched } = await freshAlarms(workspace, now)
  const told = alarms.filter(({ until }) => until === null || until > now - TOLD_DAYS * DAY_MS)
  return <Alarms alarms={told} watched={watched} days={TOLD_DAYS} zone={zone} />
}

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const workspace = await workspaceHere()
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
            <AlarmsOf workspace={workspace.id} zone={time_zone} now={now} />
          </Suspense>
        }
      />
    </Station>
  )
}
