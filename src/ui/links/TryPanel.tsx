'use client'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import type { Fate } from '@/core/links/hops'
import { ownRequest } from '@/core/shared/ownRequest'
import type { TriedHop, TriedLink, TryFinding } from '@/server/links/tryLink'
import { SidePanel } from '../parts/SidePanel'

const fateWords: Record<Fate, string> = {
  kept: 'kept',
  lost: 'lost here',
  doubled: 'doubled',
  encoded_again: 'encoded a second time',
  decoded: 'decoded too early',
  changed: 'changed',
  added: 'added',
}

type Words = { [Code in TryFinding['code']]: (finding: Extract<TryFinding, { code: Code }>) => string }
const at = (hop: number) => `between hop ${hop + 1} and ${hop + 2}`
const words: Words = {
  lost: f => `${f.key} is lost ${at(f.hop)}: the page after it never sees it.`,
  doubled: f => `${f.key} stands twice after hop ${f.hop + 1}: most pages read the first, some the last.`,
  encoded_again: f => `${f.key} is encoded a second time ${at(f.hop)}: reports would show %20 for a space.`,
  decoded: f => `${f.key} is decoded too early ${at(f.hop)}: an & in a name would cut it off.`,
  changed: f => `${f.key} has another value ${at(f.hop)}.`,
  not_followed: f => `${f.host} is not among your hosts, so it was not asked. List it if it is yours.`,
  no_answer: f => f.why,
  bad_status: f => `The landing page answers ${f.status}: whoever clicks sees an error.`,
  loop: () => 'It redirects again and again: a loop.',
  no_click_id: () => 'The tracking domain recorded no click: the code is unknown or paused.',
  no_tag: () => 'The Aequant tag is not on the landing page: what happens there is not seen.',
  bad_offer: f => `The offer answers ${f.status}: whoever goes on from the landing page sees an error.`,
  no_click_at_offer: () =>
    'The offer is reached without the click ID: its sales would come without a source. Name the parameter under Intake, Routes.',
  no_anchor: f => `The page has no place called #${f.fragment}: whoever clicks stays at the top.`,
}
const tryWords = (finding: TryFinding): string => (words[finding.code] as (f: TryFinding) => string)(finding)

async function follow(address: string): Promise<TriedLink> {
  const response = await fetch('/api/links/try', {
    method: 'POST',
    headers: { ...ownRequest, 'content-type': 'application/json' },
    body: JSON.stringify({ address }),
  })
  if (!response.ok) throw new Error(`The server answered ${response.status}.`)
  return response.json()
}

interface TryProps {
  address: string
  /** hosts that are listed together with the one that was not asked */
  hosts: readonly string[]
  /** gives what is wrong, or null */
  list: (hosts: string[]) => Promise<string | null>
}

export const TryPanel = ({ close, ...link }: TryProps & { close: () => void }) => (
  <SidePanel title="Try it" label="Try the link" width={380} close={close}>
    <TriedWay {...link} />
  </SidePanel>
)

/** Follows a link with its sample values through every hop, as a click would go. */
export function TriedWay({ address, hosts, list }: TryProps) {
  const [tried, setTried] = useState<TriedLink | null>(null)
  const [problem, setProblem] = useState('')
  const [round, setRound] = useState(0)
  useEffect(() => {
    let left = false
    void round
    setTried(null)
    setProblem('')
    follow(address).then(
      answer => left || setTried(answer),
      error => left || setProblem(error.message),
    )
    return () => {
      left = true
    }
  }, [address, round])
  const hops = (leg: TriedHop['leg']) => {
    const { length } = tried?.hops.filter(hop => hop.leg === leg) ?? []
    return `${length} ${length === 1 ? 'hop' : 'hops'}`
  }
  const lost = tried?.findings.length ?? 0
  const unlisted = tried?.findings.find(f => f.code === 'not_followed')
  const toList = unlisted ? [...new Set([unlisted.host, ...hosts])] : []
  const listed = async () => {
    const wrong = await list(toList).catch(() => 'The server did not answer. Try again.')
    if (wrong) setProblem(wrong)
    else setRound(round + 1)
  }
  return (
    <>
      <Text role="status">
        {problem ||
          (tried === null
            ? 'Following the link …'
            : tried.reached && lost === 0
              ? `The page is reached in ${hops('landing')}, with every parameter${tried.hops.at(-1)?.leg === 'offer' ? `, and its offer in ${hops('offer')} more` : ''}.`
              : tried.reached
                ? 'The page is reached, but not all is well:'
                : `The ${tried.hops.at(-1)?.leg === 'offer' ? 'offer' : 'landing page'} is not reached:`)}
      </Text>
      {tried?.findings.map((finding, i) => (
        <Text key={`${finding.code}${i}`} color="alarm" mt="1" overflowWrap="anywhere">
          {tryWords(finding)}
        </Text>
      ))}
      <Box as="ol" mt="2" listStyleType="none">
        {tried?.hops.map((hop, i) => (
          <Box as="li" key={`${i}${hop.address}`} borderTopWidth="1px" borderColor="hairline" py="2">
            <Flex justify="space-between">
              <b>
                {i + 1}
                {hop.leg === 'offer' && ' on to the offer'}
              </b>
              <Text color={hop.status >= 400 || hop.status === 0 ? 'alarm' : 'quiet'}>
                {hop.status || 'no answer'} · {hop.took} ms
              </Text>
            </Flex>
            <Text fontFamily="mono" fontSize="12px" wordBreak="break-all">
              {hop.address}
            </Text>
            {hop.parameters.length > 0 && (
              <Flex gap="2" wrap="wrap" mt="1" color="quiet" fontSize="12px">
                {hop.parameters.map(p => (
                  <Text
                    as="span"
                    key={p.key}
                    color={p.fate === 'kept' || p.fate === 'added' ? undefined : 'alarm'}
                  >
                    {p.key} {fateWords[p.fate]}
                  </Text>
                ))}
              </Flex>
            )}
          </Box>
        ))}
      </Box>
      {toList.length > 0 && (
        <Button marginRight="8px" onClick={() => void listed()}>
          List{' '}
          {toList.length > 3
            ? `${toList.slice(0, 2).join(', ')} and ${toList.length - 2} more hosts`
            : toList.join(', ')}
        </Button>
      )}
      <Button disabled={tried === null && !problem} onClick={() => setRound(round + 1)}>
        Try again
      </Button>
      <Text mt="2" color="quiet" fontSize="12px">
        The server followed it under the name of a program: the click is kept in Intake and counts nowhere.
      </Text>
    </>
  )
}
