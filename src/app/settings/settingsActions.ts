import type { SettingsActions } from '@/ui/settings/SettingsForm'
import { keepSettings, previewSettings } from '../actions'
import { giveRatesHere, missingRatesHere } from './actions'

/** What forms of settings do, from whichever screen. */
export const settingsActions: SettingsActions = {
  keep: keepSettings,
  preview: previewSettings,
  missing: missingRatesHere,
  giveRates: giveRatesHere,
}
