'use client'
import {
  Box,
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
import { useActionState, useState } from 'react'
import type { CreditRule, Settings } from '@/core/intake/settings'

const creditWords: Record<CreditRule, string> = {
  last_click: 'last click',
  first_click: 'first click',
  even: 'shared evenly',
  time_decay: 'more to the later clicks',
}

/** The rules by which everything is counted: window, credit, margin, a target. */
export function RulesDialog({
  rules,
  save,
}: {
  rules: Settings
  save: (form: FormData) => Promise<string | null>
}) {
  const [open, setOpen] = useState(false)
  const [problem, submit, saving] = useActionState(async (_: string | null, form: FormData) => {
    const said = await save(form)
    if (said === null) setOpen(false)
    return said
  }, null)
  return (
    <Dialog.Root open={open} onOpenChange={e => setOpen(e.open)} size="sm">
      <Dialog.Trigger asChild>
        <Box
          as="button"
          cursor="pointer"
          fontSize="12px"
          color="quiet"
          whiteSpace="nowrap"
          textDecoration="underline"
          textDecorationStyle="dotted"
          textUnderlineOffset="3px"
        >
          {creditWords[rules.credit]}, {rules.click_window_days} days, margin {Math.round(rules.margin * 100)}{' '}
          %
        </Box>
      </Dialog.Trigger>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="sheet" borderRadius="sm">
            <form action={submit}>
              <Dialog.Header>
                <Dialog.Title>How results are counted</Dialog.Title>
              </Dialog.Header>
              <Dialog.Body>
                <Stack gap="4">
                  <Field.Root>
                    <Field.Label>Credit goes to</Field.Label>
                    <NativeSelect.Root>
                      <NativeSelect.Field name="credit" defaultValue={rules.credit}>
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
                      defaultValue={rules.click_window_days}
                      required
                    />
                  </Field.Root>
                  <Field.Root>
                    <Field.Label>Margin of an order, %</Field.Label>
                    <Input
                      name="margin"
                      type="number"
                      min={1}
                      max={100}
                      step="0.1"
                      defaultValue={Math.round(rules.margin * 1000) / 10}
                      required
                    />
                    <Field.HelperText>The line is an order’s average value times this.</Field.HelperText>
                  </Field.Root>
                  <Field.Root>
                    <Field.Label>Target cost per result, {rules.currency} (overrides the line)</Field.Label>
                    <Input
                      name="target_cost"
                      type="number"
                      min={0.01}
                      step="0.01"
                      defaultValue={rules.target_cost ?? ''}
                    />
                  </Field.Root>
                  {problem && <Text color="alarm">{problem}</Text>}
                </Stack>
              </Dialog.Body>
              <Dialog.Footer>
                <Button type="submit" loading={saving} bg="ink" color="paper">
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
