import { Flex, Text } from '@chakra-ui/react'
import * as z from 'zod'
import { type Branch, type Offer, routeSchema } from '@/core/intake/routing'
import { CheckField } from '../parts/CheckField'
import { NumberField, SelectField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { Note } from '../parts/Page'
import { useNetworkName } from '../shell/NetworkNames'

const draftSchema = routeSchema.omit({ workspace: true }).extend({
  code: z.string().regex(/^[A-Za-z0-9_-]{0,64}$/, 'Letters, digits, - and _, at most 64 of them.'),
})
export type RouteDraft = z.infer<typeof draftSchema>
/** Keeps a route; says what is wrong, or null. */
export type KeepRoute = (route: RouteDraft) => Promise<string | null>

/** Rows that hold an address; the one that stands empty below them, to be filled in, is none. */
const filled = <Row extends { address: string; weight: number }>(rows: readonly (Row | undefined)[]): Row[] =>
  rows.flatMap(row => (row?.address ? [{ ...row, weight: row.weight ?? 1 }] : []))

/** A code of the tracking domain: the landing pages that it shares clicks out to, and the offers beyond. */
export function RouteForm({
  route,
  networks,
  origin,
  keep,
  close,
}: {
  /** null for a new one */
  route: RouteDraft | null
  networks: readonly string[]
  origin: string
  keep: KeepRoute
  close: () => void
}) {
  const networkName = useNetworkName()
  return (
    <FormPanel<RouteDraft>
      title={route ? `Code ${route.code}` : 'A new code'}
      label="The route"
      width={500}
      schema={draftSchema}
      given={route ?? { code: '', network: networks[0] ?? '', landings: [], offers: [], paused: false }}
      shape={draft => ({
        ...draft,
        landings: filled<Branch>(draft.landings),
        offers: filled<Offer>(draft.offers),
      })}
      keepWords="Keep the route"
      blocked={draft => filled<Branch>(draft.landings).length === 0 && 'Say to which page its clicks go.'}
      save={keep}
      close={close}
      kept={route && `Code ${route.code} leads elsewhere now.`}
    >
      {draft => (
        <>
          {!route && (
            <Flex gap="2">
              <TextField label="Code" name="code" placeholder="empty: one that nobody can guess" />
              <SelectField
                label="Network"
                name="network"
                width="140px"
                choices={networks.map(id => [id, networkName(id)])}
              />
            </Flex>
          )}
          <Rows of="landings" word="landing page" rows={draft.landings} hint="https://…" />
          <Rows
            of="offers"
            word="offer"
            rows={draft.offers}
            hint={`what ${origin}/c/${draft.code || '…'}/next leads to`}
          />
          <CheckField label="paused: clicks are told so" name="paused" />
          <Note>
            Clicks are shared out by weight, and a visitor always takes the same way. An offer’s partner takes
            our click ID under a parameter of its own.
          </Note>
        </>
      )}
    </FormPanel>
  )
}

/** Addresses with their weights, and an empty line for another. */
function Rows({
  of,
  word,
  rows,
  hint,
}: {
  of: 'landings' | 'offers'
  word: string
  rows: readonly Branch[]
  hint: string
}) {
  return (
    <>
      <Flex justify="space-between" mt="3">
        <Text fontWeight="650">{of === 'landings' ? 'Landing pages' : 'Then offers'}</Text>
        <Text color="quiet" width="62px">
          weight
        </Text>
      </Flex>
      {[...rows, null].map((_, i) => (
        <Flex key={i} gap="1.5" mt="1">
          <TextField
            unseen
            width="100%"
            type="url"
            label={`${word[0]!.toUpperCase()}${word.slice(1)} ${i + 1}`}
            name={`${of}.${i}.address`}
            placeholder={hint}
          />
          {of === 'offers' && (
            <TextField
              unseen
              width="92px"
              label={`Click ID parameter of offer ${i + 1}`}
              name={`${of}.${i}.click_parameter`}
              placeholder="click ID as"
            />
          )}
          <NumberField
            unseen
            label={`Weight of ${word} ${i + 1}`}
            name={`${of}.${i}.weight`}
            least={0}
            step={0.1}
            width="62px"
            placeholder="1"
          />
        </Flex>
      ))}
    </>
  )
}
