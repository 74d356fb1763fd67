import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'
import type { MissingRates as Missing } from '@/server/missingRates'
import { useFormats } from '../format'
import { TextField } from '../parts/Fields'
import { Fold } from '../parts/Fold'
import { useSending } from '../parts/useSending'

export type GiveRates = (
  rates: { base: string; quote: string; day: string; rate: string }[],
) => Promise<string | null>

/** Asks for the exchange rates that are missing, in one step: one for all days of a currency, or each day's own. */
export function MissingRates({
  missing,
  quote,
  give,
  given,
  children,
}: {
  missing: readonly Missing[]
  /** the currency that everything is counted in */
  quote: string
  give: GiveRates
  /** called once they are kept */
  given: () => void
  /** what else could be done about it */
  children?: (base: string) => ReactNode
}) {
  const { count, day } = useFormats()
  const [typed, setTyped] = useState<Record<string, string>>({})
  const [problem, setProblem] = useState('')
  const [busy, send] = useSending()
  if (missing.length === 0) return null
  const keyOf = (base: string, of = '') => `${base} ${of}`
  const rateOf = (base: string, of: string) =>
    (typed[keyOf(base, of)] || typed[keyOf(base)] || '').trim().replace(',', '.')
  const all = missing.flatMap(({ base, days }) =>
    days.map(of => ({ base, quote, day: of, rate: rateOf(base, of) })),
  )
  const type = (key: string) => (text: string) => setTyped({ ...typed, [key]: text })
  const keep = () =>
    send(async () => {
      const wrong = await give(all)
      setProblem(wrong ?? '')
      if (!wrong) given()
    })
  return (
    <Box
      role="group"
      aria-label="Missing exchange rates"
      mt="3"
      p="3"
      bg="mark"
      maxWidth="46rem"
      fontSize="13px"
    >
      <Text color="alarm">Everything is counted in {quote}, and rates of some days are missing.</Text>
      {missing.map(({ base, days }) => (
        <Box key={base} mt="2">
          <Flex gap="2" align="center" wrap="wrap">
            <TextField
              beside
              width="auto"
              label={`1 ${base} is, in ${quote}`}
              value={typed[keyOf(base)] ?? ''}
              change={type(keyOf(base))}
              placeholder="0.8431"
              input={{ htmlSize: 10, inputMode: 'decimal' }}
            />
            <Text color="quiet">
              on{' '}
              {days.length === 1
                ? day(days[0]!)
                : `${count(days.length)} days, ${day(days[0]!)} – ${day(days.at(-1)!)}`}
            </Text>
            {children?.(base)}
          </Flex>
          {days.length > 1 && (
            <Fold title="Each day its own" fontSize="12px">
              <Flex gap="3" wrap="wrap">
                {days.map(of => (
                  <TextField
                    key={of}
                    beside
                    width="auto"
                    label={day(of)}
                    value={typed[keyOf(base, of)] ?? ''}
                    change={type(keyOf(base, of))}
                    placeholder={typed[keyOf(base)]}
                    input={{ htmlSize: 8, inputMode: 'decimal' }}
                  />
                ))}
              </Flex>
            </Fold>
          )}
        </Box>
      ))}
      {problem && (
        <Text color="alarm" role="alert" mt="1">
          {problem}
        </Text>
      )}
      <Button mt="2" disabled={busy || all.some(one => one.rate === '')} onClick={keep}>
        Keep these rates
      </Button>
    </Box>
  )
}
