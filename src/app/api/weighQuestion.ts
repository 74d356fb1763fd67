import { sharedDatabase } from '@/data/connect'
import { listProfiles } from '@/data/workspace'
import { knownAlarms } from '@/server/signals/latestAlarms'

/** What of a workspace Weigh goes by beside its records: how long networks learn, and ads whose clicks never arrive. */
export async function besideRecords(
  workspace: string,
): Promise<{ learning: Record<string, number>; lost: string[] }> {
  const profiles = await listProfiles(sharedDatabase(), workspace)
  return {
    learning: Object.fromEntries(profiles.map(({ id, learning_days }) => [id, learning_days])),
    lost: knownAlarms(workspace, Date.now()).flatMap(alarm =>
      alarm.kind === 'lost_clicks' && alarm.until === null && alarm.ad
        ? [`${alarm.receiver}/${alarm.ad.id}`]
        : [],
    ),
  }
}
