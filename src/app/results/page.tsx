import { Suspense } from 'react'
import { sharedDatabase } from '@/data/connect'
import { listCampaigns } from '@/data/workspace'
import { LOOK_BACK_DAYS } from '@/server/signals/alarms'
import { freshAlarms } from '@/server/signals/latestAlarms'
import { describeResults } from '@/server/signals/results'
import { Alarms, AlarmsAwaited } from '@/ui/results/Alarms'
import { ResultsScreen } from '@/ui/results/ResultsScreen'
import { type Search, workspaceHere } from '../frame'
import { Station } from '../Station'
import { mapResult, previewDefinition, saveResult } from './actions'

export const dynamic = 'force-dynamic'
export const metadata = { title: 'Results' }

/** Worked out beside the page, which does not wait for it. */
async function AlarmsOf({ workspace, now }: { workspace: string; now: number }) {
  const { alarms, ...watched } = await freshAlarms(workspace, now)
  return <Alarms alarms={alarms} watched={watched} days={LOOK_BACK_DAYS} />
}

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const workspace = await workspaceHere()
  const now = Date.now()
  return (
    <Station search={await searchParams}>
      <ResultsScreen
        described={await describeResults(sharedDatabase(), workspace, now)}
        rules={workspace.settings}
        now={now}
        actions={{ save: saveResult, preview: previewDefinition, map: mapResult }}
        campaigns={await listCampaigns(sharedDatabase(), workspace.id)}
        alarms={
          <Suspense key={now} fallback={<AlarmsAwaited />}>
            <AlarmsOf workspace={workspace.id} now={now} />
          </Suspense>
        }
      />
    </Station>
  )
}
