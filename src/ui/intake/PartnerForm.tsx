import { Box, Flex, Text } from '@chakra-ui/react'
import * as z from 'zod'
import {
  type Partner,
  type PostbackField,
  partnerSchema,
  postbackFields,
  saleStatuses,
} from '@/core/intake/postback'
import { CheckField } from '../parts/CheckField'
import { TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'

const fieldWords: Record<PostbackField, string> = {
  click: 'our click ID, as it came back',
  deal: 'the deal’s own ID',
  amount: 'amount',
  currency: 'currency',
  status: 'status',
}
const draftSchema = partnerSchema.extend({ secret: z.boolean() })
export type PartnerDraft = z.infer<typeof draftSchema>
/** Keeps a partner's sheet; says what is wrong, or null. */
export type KeepPartner = (partner: PartnerDraft) => Promise<string | null>

const idOf = (name: string) =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
const named = <Names extends object>(names: Names) =>
  Object.fromEntries(Object.entries(names).filter(([, name]) => name)) as Names

/** How a partner writes its postbacks, as its own help pages say it. */
export function PartnerForm({
  partner,
  currency,
  keep,
  close,
}: {
  /** null for a new one */
  partner: (Partner & { secret: boolean }) | null
  currency: string
  keep: KeepPartner
  close: () => void
}) {
  return (
    <FormPanel<PartnerDraft>
      title={partner?.name ?? 'A new partner'}
      label="The partner"
      width={460}
      schema={draftSchema}
      given={
        partner ?? {
          id: '',
          name: '',
          result: 'order',
          currency,
          click_parameter: '',
          parameters: {},
          macros: {},
          sub_ids: {},
          statuses: {},
          secret: true,
        }
      }
      shape={draft => ({
        ...draft,
        id: partner?.id ?? idOf(draft.name),
        currency: draft.currency.toUpperCase(),
        parameters: named(draft.parameters),
        macros: named(draft.macros),
      })}
      blocked={({ name, parameters }) =>
        name !== '' &&
        !parameters.deal &&
        'Name the parameter of the deal’s ID: without it a sale told twice would count twice.'
      }
      keepWords={partner ? 'Keep the partner' : 'Add the partner'}
      save={keep}
      close={close}
      kept={partner && `How ${partner.name} writes is changed.`}
    >
      {({ statuses }, form) => (
        <>
          <TextField label="Name" name="name" />
          <Flex gap="2">
            <TextField label="Offer link takes our click ID as" name="click_parameter" placeholder="p1" />
            <TextField label="A sale counts as" name="result" width="120px" />
            <TextField label="Currency" name="currency" width="70px" help="where it says none" />
          </Flex>
          <CheckField label="with a secret in the address" name="secret" />
          <Text fontWeight="650" mt="3">
            What its postback says, in which parameter, filled by which macro
          </Text>
          {postbackFields.map(field => (
            <Flex key={field} gap="1.5" mt="1" align="center">
              <Text width="170px" flexShrink={0}>
                {fieldWords[field]}
              </Text>
              <TextField
                unseen
                mono
                label={`Parameter of ${fieldWords[field]}`}
                name={`parameters.${field}`}
                placeholder="parameter"
              />
              <TextField
                unseen
                mono
                label={`Macro of ${fieldWords[field]}`}
                name={`macros.${field}`}
                placeholder="macro"
              />
            </Flex>
          ))}
          <Box mt="3">
            {saleStatuses.map(status => (
              <TextField
                key={status}
                label={`Its words for ${status}`}
                placeholder={status}
                value={(statuses[status] ?? []).join(', ')}
                change={text =>
                  form.setValue(`statuses.${status}`, text.toLowerCase().split(/\s*,\s*/), {
                    shouldDirty: true,
                  })
                }
              />
            ))}
          </Box>
        </>
      )}
    </FormPanel>
  )
}
