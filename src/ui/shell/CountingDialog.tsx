'use client'
import {
  Button,
  CloseButton,
  Dialog,
  Field,
  Input,
  NativeSelect,
  Portal,
  Stack,
  Text,
} from '@chakra-ui/react'
import Link from 'next/link'
import { useActionState, useState } from 'react'
import type { OwnRules, Settings } from '@/core/intake/settings'
import { currencyExponent, formatAmount } from '@/core/shared/money'
import { AmountField } from '../parts/AmountField'
import { creditWords } from '../results/resultWords'

/** The rules by which everything is counted: window, credit, margin, a target. */
export function CountingDialog({
  settings,
  judged,
  save,
  open,
  setOpen,
}: {
  /** the workspace's, for results that have none of their own */
  settings: Settings
  /** those by which the judged result is counted */
  judged: OwnRules
  save: (form: FormData) => Promise<string | null>
  open: boolean
  setOpen: (open: boolean) => void
}) {
  const own = [
    judged.credit !== settings.credit && creditWords[judged.credit],
    judged.click_window_days !== settings.click_window_days && `clicks ${judged.click_window_days} days`,
    judged.view_window_days !== settings.view_window_days && `views ${judged.view_window_days} days`,
  ].filter(rule => rule !== false)
  const digits = currencyExponent(settings.currency) ?? 2
  const [target, setTarget] = useState<number | undefined | null>(
    settings.target_cost === undefined ? undefined : Math.round(settings.target_cost * 10 ** digits),
  )
  const [problem, submit, saving] = useActionState(async (_: string | null, form: FormData) => {
    if (target === null) return 'The target is no amount.'
    form.set('target_cost', target === undefined ? '' : formatAmount(target, settings.currency))
    const said = await save(form)
    if (said === null) setOpen(false)
    return said
  }, null)
  return (
    <Dialog.Root open={open} onOpenChange={e => setOpen(e.open)} size="sm">
      <Dialog.Trigger asChild>
        <Button variant="plain" fontSize="12px" color="quiet" textDecorationStyle="dotted">
          {creditWords[judged.credit]}, {judged.click_window_days} days, margin{' '}
          {Math.round(settings.margin * 100)} %
        </Button>
      </Dialog.Trigger>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content>
            <form action={submit}>
              <Dialog.Header>
                <Dialog.Title>How results are counted</Dialog.Title>
              </Dialog.Header>
              <Dialog.Body>
                <Stack gap="4">
                  <Field.Root>
                    <Field.Label>Credit goes to</Field.Label>
                    <NativeSelect.Root>
                      <NativeSelect.Field name="credit" defaultValue={settings.credit}>
                        {Object.entries(creditWords).map(([rule, words]) => (
                          <option key={rule} value={rule}>
                            {words}
                          </option>
                        ))}
                      </NativeSelect.Field>
                      <NativeSelect.Indicator />
                    </NativeSelect.Root>
                  </Field.Root>
                  <Field.Root>
                    <Field.Label>An ad click counts for this many days</Field.Label>
                    <Input
                      name="click_window_days"
                      type="number"
                      min={1}
                      max={90}
                      defaultValue={settings.click_window_days}
                      required
                    />
                  </Field.Root>
                  <Field.Root>
                    <Field.Label>Claims by view count for this many days, 0 for none</Field.Label>
                    <Input
                      name="view_window_days"
                      type="number"
                      min={0}
                      max={90}
                      defaultValue={settings.view_window_days}
                      required
                    />
                    <Field.HelperText>
                      Only those of networks that look back no further: a claim does not say when the view
                      was.
                    </Field.HelperText>
                  </Field.Root>
                  {own.length > 0 && (
                    <Text>
                      Orders have a rule of their own under{' '}
                      <Link href="/results" style={{ textDecoration: 'underline' }}>
                        Results
                      </Link>
                      : {own.join(', ')}.
                    </Text>
                  )}
                  <Field.Root>
                    <Field.Label>Margin of an order, %</Field.Label>
                    <Input
                      name="margin"
                      type="number"
                      min={1}
                      max={100}
                      step="0.1"
                      defaultValue={Math.round(settings.margin * 1000) / 10}
                      required
                    />
                    <Field.HelperText>The line is an order’s average value times this.</Field.HelperText>
                  </Field.Root>
                  <AmountField
                    label={`Target cost per result, ${settings.currency} (overrides the line)`}
                    currency={settings.currency}
                    value={target}
                    change={setTarget}
                  />
                  {problem && <Text color="alarm">{problem}</Text>}
                </Stack>
              </Dialog.Body>
              <Dialog.Footer>
                <Button type="submit" loading={saving} variant="solid">
                  Count by these
                </Button>
              </Dialog.Footer>
              <Dialog.CloseTrigger asChild>
                <CloseButton size="sm" />
              </Dialog.CloseTrigger>
            </form>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
