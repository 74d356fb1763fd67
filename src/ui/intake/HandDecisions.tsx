'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Decided, Decision } from '@/core/intake/decisions'
import { useFormats } from '../format'
import { SelectField, TextField } from '../parts/Fields'
import { useDecide } from '../parts/useDecide'

/** What an order can be said to be, or its customer. */
const choices: { id: string; says: string; decided: (order: string) => Decided }[] = [
  { id: 'test', says: 'it was a test', decided: order => ({ about: 'test', order }) },
  {
    id: 'phone',
    says: 'it came by phone, not by the site',
    decided: order => ({ about: 'channel', order, channel: 'phone' }),
  },
  {
    id: 'store',
    says: 'it came by the store, not by the site',
    decided: order => ({ about: 'channel', order, channel: 'store' }),
  },
]

const wordsOf = (decision: Decision): string =>
  decision.about === 'test'
    ? 'It was a test.'
    : decision.about === 'channel'
      ? `It came by ${decision.channel}.`
      : decision.about === 'result'
        ? `It is a ${decision.result}.`
        : decision.about === 'customers'
          ? `${decision.customers.join(' and ')} are one customer.`
          : decision.order === null
            ? 'A claim on it is for none of our orders.'
            : `A claim is for order ${decision.order}.`

const SAME = 'same'

/** What was settled by hand of an order, and the form to settle more. Each can be taken back. */
export function HandDecisions({
  order,
  customer,
  decisions,
}: {
  order: string
  /** whose it is, where it says */
  customer: string | null
  decisions: readonly Decision[]
}) {
  const { instant } = useFormats()
  const { problem, busy, decide, undo } = useDecide()
  const [choice, setChoice] = useState(choices[0]!.id)
  const [why, setWhy] = useState('')
  const [other, setOther] = useState('')
  const offered = [
    ...choices,
    ...(customer === null
      ? []
      : [
          {
            id: SAME,
            says: 'its customer is one with another',
            decided: (): Decided => ({ about: 'customers', customers: [customer, other.trim()] }),
          },
        ]),
  ]
  const keep = async () => {
    const decided = offered.find(({ id }) => id === choice)!.decided(order)
    if (await decide({ ...decided, why })) {
      setWhy('')
      setOther('')
    }
  }
  return (
    <Box as="section" aria-label="Settled by hand" mt="4">
      <Text as="h2" fontWeight="650">
        Settled by hand
      </Text>
      {decisions.map(decision => (
        <Flex
          key={decision.id}
          justify="space-between"
          gap="3"
          borderTopWidth="1px"
          borderColor="hairline"
          py="1.5"
        >
          <Box minWidth="0" overflowWrap="anywhere">
            <Text>{wordsOf(decision)}</Text>
            <Text color="quiet" fontSize="12px">
              {decision.why} · {decision.by}, {instant(decision.at)}
            </Text>
          </Box>
          <Button size="xs" disabled={busy} onClick={() => undo(decision.id)}>
            Undo
          </Button>
        </Flex>
      ))}
      <Flex
        as="form"
        direction="column"
        gap="1.5"
        mt="2"
        onSubmit={event => {
          event.preventDefault()
          keep()
        }}
      >
        <SelectField
          unseen
          width="100%"
          label="What it is"
          value={choice}
          change={setChoice}
          choices={offered.map(({ id, says }) => [id, says])}
        />
        {choice === SAME && (
          <TextField
            unseen
            width="100%"
            label="The other customer"
            placeholder="the other customer, as orders name it"
            value={other}
            change={setOther}
          />
        )}
        <Flex gap="2">
          <TextField unseen width="100%" label="Why" placeholder="why" value={why} change={setWhy} />
          <Button type="submit" disabled={busy}>
            Keep
          </Button>
        </Flex>
        {problem && (
          <Text role="alert" color="alarm">
            {problem}
          </Text>
        )}
      </Flex>
    </Box>
  )
}
