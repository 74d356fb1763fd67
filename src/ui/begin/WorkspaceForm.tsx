import * as z from 'zod'
import { settingsSchema } from '@/core/intake/settings'
import { useFormats } from '../format'
import { NumberField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { Note } from '../parts/Page'

const draftSchema = settingsSchema
  .pick({ currency: true, time_zone: true, margin: true })
  .extend({ name: z.string().trim().min(1).max(100) })
export type WorkspaceDraft = Pick<z.infer<typeof draftSchema>, 'name' | 'currency' | 'time_zone' | 'margin'>
export type KeepWorkspace = (draft: WorkspaceDraft) => Promise<string | null>

/** What the business is called, and how it counts. */
export function WorkspaceForm({
  given,
  keep,
  close,
}: {
  given: WorkspaceDraft
  keep: KeepWorkspace
  close: () => void
}) {
  const { tenths } = useFormats()
  return (
    <FormPanel<WorkspaceDraft>
      title="How the business counts"
      schema={draftSchema}
      given={given}
      shape={draft => ({ ...draft, currency: draft.currency.toUpperCase() })}
      keepWords="Keep it"
      save={keep}
      kept="How the business counts is changed."
      close={close}
    >
      {({ margin }) => (
        <>
          <TextField label="Name of the shop" name="name" />
          <TextField label="Currency" name="currency" help="three letters; amounts in others need rates" />
          <TextField
            label="Its days are in the zone"
            name="time_zone"
            suggestions={Intl.supportedValuesOf('timeZone')}
            help="such as Europe/Lisbon"
          />
          <NumberField
            label="Margin of an order"
            name="margin"
            least={1}
            most={100}
            step={0.1}
            scale={0.01}
            unit="%"
            help="what is left of its total once goods, packing and fees are paid"
          />
          {margin > 0 && (
            <Note>
              An order of 100 may then cost {tenths(margin * 100)} before it loses money.
              {margin === 1 && ' At 100 % every order that costs less than its total looks well.'}
            </Note>
          )}
        </>
      )}
    </FormPanel>
  )
}
