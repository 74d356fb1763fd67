'use client'
import { Button, Flex, Text, Textarea } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import type { LinkChange, Parameters, PlanScope } from '@/core/links/change'
import { levelsOf, type NetworkProfile, type PlanLevel, planLevels } from '@/core/links/profile'
import { reviewOf } from '@/core/links/review'
import { type Belongs, pasteDoubts, type TakenApart, takeApart } from '@/core/links/takeApart'
import { Select } from '../parts/Fields'
import { SidePanel } from '../parts/SidePanel'
import { DataTable } from '../parts/table/DataTable'
import { Mono } from '../parts/WordLink'
import { levelName } from './linkWords'
import { ReviewWarning } from './ReviewWarning'
import type { StationAd } from './station'
import { Template } from './TemplateField'

const belongsWords: Record<Belongs, string> = {
  plan: 'of the plan',
  sub_id: 'a sub-ID',
  page: 'the page’s own',
  click_id: 'added at the click',
}
const repairWords: Record<TakenApart['repairs'][number], string> = {
  line_breaks: 'line breaks taken out',
  quotes: 'quotes around it taken off',
  html_ampersands: '&amp; read as &',
  scheme_added: 'https:// put before it',
  second_question_mark: 'a second question mark read as &',
  parameters_after_fragment: 'parameters behind the # put before it',
}

/** Takes a tagged address from anywhere apart: destination, parameters, recognised tokens. */
export function PastePanel({
  ad,
  profiles,
  own,
  scope,
  apply,
  close,
}: {
  ad: StationAd
  profiles: readonly NetworkProfile[]
  own: (scope: PlanScope) => Parameters
  scope: (level: PlanLevel) => PlanScope
  apply: (changes: readonly LinkChange[]) => void
  close: () => void
}) {
  const [text, setText] = useState('')
  const [by, setBy] = useState('')
  const [level, setLevel] = useState<PlanLevel>('ad')
  const taken = useMemo(
    () =>
      text.trim() === ''
        ? null
        : takeApart(text, {
            profiles: by ? profiles.filter(p => p.id === by) : profiles,
            preferred: ad.network,
          }),
    [text, by, profiles, ad.network],
  )
  const here = profiles.find(p => p.id === ad.network)
  const doubts = taken ? pasteDoubts(taken, profiles) : { foreign: [], twice: [] }
  const nameOf = (id: string) => profiles.find(p => p.id === id)?.name ?? id
  const writer = profiles.find(p => p.id === taken?.profile)
  const planned = taken?.parameters.filter(p => p.belongs === 'plan' || p.belongs === 'sub_id') ?? []
  const changes: LinkChange[] = []
  if (planned.length > 0) {
    const before = own(scope(level))
    const after = { ...before, ...Object.fromEntries(planned.map(p => [p.key, p.template])) }
    changes.push({ what: 'plan', ...scope(level), before, after })
  }
  const { landingPage, straight } = ad
  if (taken?.destination && taken.destination !== landingPage)
    changes.push({
      what: 'ad',
      network: ad.network,
      ad: ad.id,
      before: { landingPage, straight },
      after: { landingPage: taken.destination, straight },
    })
  const use = () => {
    apply(changes)
    close()
  }
  return (
    <SidePanel title="Paste an address" label="Paste an address" width={400} close={close}>
      <Textarea
        aria-label="A tagged address from anywhere"
        placeholder="https://… from an ad, an e-mail, a sheet"
        autoFocus
        rows={5}
        maxLength={20_000}
        height="auto"
        fontFamily="mono"
        fontSize="12px"
        value={text}
        onChange={e => setText(e.target.value)}
      />
      {text.trim() !== '' && taken === null && (
        <Text color="alarm" role="alert">
          That is no web address and no parameters. Copy it whole, from https:// to its end.
        </Text>
      )}
      {taken && (
        <>
          <Flex mt="2" gap="2" align="center">
            <span>written for</span>
            <Select
              aria-label="Network that it was written for"
              value={by || taken.profile}
              onChange={e => setBy(e.target.value)}
            >
              {profiles.map(p => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
            </Select>
            <Text color="quiet">
              {taken.recognised} {taken.recognised === 1 ? 'token' : 'tokens'} recognised
            </Text>
          </Flex>
          {taken.repairs.length > 0 && (
            <Text color="network" mt="1">
              Mended: {taken.repairs.map(r => repairWords[r]).join(', ')}.
            </Text>
          )}
          <Text mt="2" color="quiet">
            leads to
          </Text>
          <Text fontFamily="mono" fontSize="12px" wordBreak="break-all" data-testid="taken destination">
            {taken.destination || '— (parameters alone)'}
          </Text>
          <DataTable
            label="What it carries"
            columns={[
              {
                id: 'parameter',
                words: true,
                wraps: true,
                value: p => p.key,
                cell: p => <Mono>{p.key}</Mono>,
              },
              {
                id: 'says',
                words: true,
                wraps: true,
                value: p => p.template,
                cell: p => (
                  <Flex gap="1" wrap="wrap">
                    {writer && <Template template={p.template} profile={writer} />}
                  </Flex>
                ),
              },
              { id: 'belongs', heading: '', words: true, value: p => belongsWords[p.belongs] },
            ]}
            rows={taken.parameters}
            rowId={p => String(taken.parameters.indexOf(p))}
            tools={false}
          />
          {doubts.foreign.map(({ key, text: found, profile }) => (
            <Text key={key} mt="2" color="alarm" role="alert">
              “{found}” in {key} is how {nameOf(profile)} writes a value: {nameOf(taken.profile)} would pass
              it on unread. If the address is {nameOf(profile)}’s, choose it above.
            </Text>
          ))}
          {doubts.twice.map(({ key, kept, dropped }) => (
            <Text key={key} mt="2" color="network">
              {key} stood {dropped.length === 1 ? 'twice' : `${dropped.length + 1} times`}: “{kept}” is taken,{' '}
              {dropped.map(value => `“${value}”`).join(', ')} is left out.
            </Text>
          ))}
          {here && writer && here.id !== writer.id && taken.recognised > 0 && (
            <Text mt="2" color="network">
              It was written for {writer.name}; its tokens are taken as {here.name} writes them.
            </Text>
          )}
          <Flex mt="3" gap="2" align="center">
            <Button onClick={use} disabled={changes.length === 0}>
              Use it for {ad.name.slice(0, 40)}
            </Button>
            <span>at</span>
            <Select
              aria-label="Level to set it at"
              value={level}
              onChange={e => setLevel(planLevels.find(l => l === e.target.value) ?? 'ad')}
            >
              {here &&
                levelsOf(here).map(l => (
                  <option key={l} value={l}>
                    {levelName(here, l)}
                  </option>
                ))}
            </Select>
          </Flex>
          <ReviewWarning review={reviewOf(changes, profiles)} take={setLevel} />
        </>
      )}
    </SidePanel>
  )
}
