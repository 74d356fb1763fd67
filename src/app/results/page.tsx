import { sharedDatabase } from '@/data/connect'
import { describeResults } from '@/server/signals/results'
import { ResultsScreen } from '@/ui/results/ResultsScreen'
import { type Search, workspaceHere } from '../frame'
import { Station } from '../Station'
import { mapResult, previewDefinition, saveResult } from './actions'

export const dynamic = 'force-dynamic'

export default async function Page({ searchParams }: { searchParams: Promise<Search> }) {
  const workspace = await workspaceHere()
  const now = Date.now()
  const { currency, credit, click_window_days, time_zone } = workspace.settings
  return (
    <Station search={await searchParams}>
      <ResultsScreen
        described={await describeResults(sharedDatabase(), workspace, now)}
        currency={currency}
        credit={credit}
        windowDays={click_window_days}
        now={now}
        zone={time_zone}
        actions={{ save: saveResult, preview: previewDefinition, map: mapResult }}
      />
    </Station>
  )
}
