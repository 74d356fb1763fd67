import { Text } from '@chakra-ui/react'
import { Note } from '../parts/Page'
import { WordLink } from '../parts/WordLink'
import { creditWords } from '../results/resultWords'
import { type SettingsActions, SettingsForm } from '../settings/SettingsForm'
import type { Frame } from './frame'

/** The rules by which everything is counted, from any screen. */
export function CountingPanel({
  frame: { workspace, settings, judged },
  actions,
  close,
}: {
  frame: Frame
  actions: SettingsActions
  close: () => void
}) {
  const own = [
    judged.credit !== settings.credit && creditWords[judged.credit],
    judged.click_window_days !== settings.click_window_days && `clicks ${judged.click_window_days} days`,
    judged.view_window_days !== settings.view_window_days && `views ${judged.view_window_days} days`,
    judged.margin !== settings.margin && `a margin of ${Math.round(judged.margin * 1000) / 10} %`,
  ].filter(rule => rule !== false)
  return (
    <SettingsForm
      title="How results are counted"
      parts={['counting', 'worth']}
      name={workspace}
      settings={settings}
      actions={actions}
      close={close}
      keepWords="Count by these"
      kept="Results are counted otherwise now."
      remark={
        <>
          {own.length > 0 && (
            <Text mt="2">
              What is judged has rules of its own under <WordLink href="/results">Results</WordLink>:{' '}
              {own.join(', ')}.
            </Text>
          )}
          <Note>All figures change with these, of every period; nothing that is stored does.</Note>
        </>
      }
    />
  )
}
