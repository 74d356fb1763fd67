import { Button, Text } from '@chakra-ui/react'
import type { AddressCondition } from '@/core/signals/addressMatcher'
import { type Step, stepSchema } from '@/core/signals/journey'
import { CheckField } from '../parts/CheckField'
import { SelectField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { Conditions } from '../signals/Conditions'

/** A result by its name. */
export interface Named {
  id: string
  name: string
}
const filled = (list: readonly AddressCondition[]) => list.filter(c => c.text.trim() !== '')

/** A step whose conditions may still be empty lines. */
const filledStep = (step: Step): Step =>
  step.by.on === 'page'
    ? {
        ...step,
        by: { on: 'page', where: { any: filled(step.by.where.any), none: filled(step.by.where.none) } },
      }
    : step

/** One step of a journey: a result, or pages by their address. */
export function StepForm({
  step,
  results,
  keep,
  remove,
  close,
}: {
  step: Step
  results: Named[]
  keep: (step: Step) => void
  remove: (() => void) | null
  close: () => void
}) {
  return (
    <FormPanel
      title="The step"
      schema={stepSchema}
      given={step}
      shape={filledStep}
      keepWords="Keep the step"
      save={keep}
      close={close}
      also={remove && <Button onClick={remove}>Remove it</Button>}
    >
      {({ by }, form) => {
        const where = (which: 'any' | 'none', list: AddressCondition[]) =>
          by.on === 'page' &&
          form.setValue('by', { on: 'page', where: { ...by.where, [which]: list } }, { shouldDirty: true })
        return (
          <>
            <TextField label="Name" name="name" />
            <SelectField
              label="It is reached when"
              value={by.on === 'page' ? '' : by.result}
              change={result =>
                form.setValue(
                  'by',
                  result ? { on: 'result', result } : { on: 'page', where: { any: [], none: [] } },
                  { shouldDirty: true },
                )
              }
              choices={[
                ['', 'a page is opened'],
                ...results.map(r => [r.id, `${r.name} comes about`] as const),
              ]}
            />
            {by.on === 'page' && (
              <>
                <Conditions
                  label="The page’s address"
                  list={by.where.any}
                  keep={list => where('any', list)}
                />
                <Conditions
                  label="But not where it"
                  list={by.where.none}
                  keep={list => where('none', list)}
                />
                {filled(by.where.any).length === 0 && (
                  <Text color="quiet">With no address every page is this step.</Text>
                )}
              </>
            )}
            <CheckField label="Shoppers may go on without it" name="optional" />
          </>
        )
      }}
    </FormPanel>
  )
}
