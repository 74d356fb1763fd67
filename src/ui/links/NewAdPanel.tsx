'use client'
import { Box, Button, Text } from '@chakra-ui/react'
import * as z from 'zod'
import { type NamedLevel, type NamingRule, namedLevels, readName, ruleFor } from '@/core/links/naming'
import type { NetworkProfile } from '@/core/links/profile'
import { PROVISIONAL } from '@/core/links/provisional'
import type { NewAd } from '@/server/links/changes'
import { SelectField, TextField } from '../parts/Fields'
import { FormPanel } from '../parts/FormPanel'
import { WordLink } from '../parts/WordLink'
import { levelName } from './linkWords'
import { nameProblemWords } from './nameWords'

const unnamed = { id: '', name: '' }
/** Levels that the network lacks stay empty; the server says what is wrong with the others. */
const named = z.object({ id: z.string().max(200), name: z.string().max(200) })
const formSchema = z.object({
  network: z.string(),
  campaign: named,
  ad_set: named,
  ad: named,
  landing_page: z.string().max(4096),
})

/** A campaign that no report has named yet: its names, the network's IDs, and where its ad leads. */
export function NewAdPanel({
  profiles,
  rules,
  names,
  network,
  save,
  added,
  close,
}: {
  profiles: readonly NetworkProfile[]
  rules: readonly NamingRule[]
  /** names of campaigns and ad sets by `network/level/id`: one that is there already brings its ID */
  names: Readonly<Record<string, string>>
  network: string
  save: (ad: NewAd) => Promise<string | null>
  added: (key: string) => void
  close: () => void
}) {
  const levelsAt = (id: string) => {
    const own = profiles.find(p => p.id === id)?.levels
    return namedLevels.filter(level => own?.includes(level))
  }
  const knownAt = (network: string, level: NamedLevel) => {
    const begin = `${network}/${level}/`
    return Object.entries(names).flatMap(([key, known]) =>
      key.startsWith(begin) ? [[key.slice(begin.length), known] as const] : [],
    )
  }
  const keep = async (typed: z.infer<typeof formSchema>) => {
    const { network, landing_page } = typed
    // Without an ID one stands for it until a report brings the network's own.
    const withId = (of: z.infer<typeof named>) => ({
      ...of,
      id: of.id.trim() || `${PROVISIONAL}${crypto.randomUUID()}`,
    })
    const [ad, above] = [withId(typed.ad), { campaign: withId(typed.campaign), ad_set: withId(typed.ad_set) }]
    const levels = levelsAt(network)
    const problem = await save({
      network,
      ad,
      landing_page,
      ...(levels.includes('campaign') && { campaign: above.campaign }),
      ...(levels.includes('ad_set') && { ad_set: above.ad_set }),
    })
    if (problem === null) added(`${network}/${ad.id.trim()}`)
    return problem
  }
  return (
    <FormPanel
      title="A new ad"
      schema={formSchema}
      given={{ network, campaign: unnamed, ad_set: unnamed, ad: unnamed, landing_page: '' }}
      keepWords="Add the ad"
      save={keep}
      close={close}
      after={
        <Text mt="4" color="quiet">
          An ad without an ID gets it from the report that brings an ad of its name and place. Many at once:
          reports bring their ads with them, and <WordLink href="/intake/import">ads.csv</WordLink> brings
          names, IDs, landing pages and what stands at the network.
        </Text>
      }
    >
      {(draft, form) => {
        const profile = profiles.find(p => p.id === draft.network)
        const name = (level: NamedLevel, to: string) => {
          const known = level === 'ad' ? [] : knownAt(draft.network, level)
          const same = known.find(([, called]) => called === to)
          // An ID that came with another name goes with it.
          const own = known.some(([id]) => id === draft[level].id) ? '' : draft[level].id
          form.setValue(level, { id: same?.[0] ?? own, name: to }, { shouldDirty: true })
        }
        return (
          <>
            <SelectField label="Network" name="network" choices={profiles.map(p => [p.id, p.name])} />
            {profile &&
              levelsAt(draft.network).map(level => {
                const label = levelName(profile, level)
                return (
                  <Box as="fieldset" key={level} mt="2" border="0">
                    <Text as="legend" textTransform="capitalize">
                      {label}
                    </Text>
                    <TextField
                      unseen
                      label={`Name of the ${label}`}
                      placeholder="name"
                      value={draft[level].name}
                      change={to => name(level, to)}
                      suggestions={[...new Set(knownAt(draft.network, level).map(([, known]) => known))]}
                    />
                    <NameHint
                      rule={ruleFor(rules, draft.network, level)}
                      name={draft[level].name}
                      take={fitting => name(level, fitting)}
                    />
                    <Box mt="1">
                      <TextField
                        unseen
                        label={`ID of the ${label}`}
                        placeholder={`ID at ${profile.name}, if there is one yet`}
                        name={`${level}.id`}
                      />
                    </Box>
                  </Box>
                )
              })}
            <TextField label="Landing page" name="landing_page" placeholder="https://…" />
          </>
        )
      }}
    </FormPanel>
  )
}

/** What keeps a name that is being typed from its rule, and the name that would fit. */
function NameHint({
  rule,
  name,
  take,
}: {
  rule: NamingRule | null
  name: string
  take: (name: string) => void
}) {
  if (!rule) return null
  const pattern = rule.parts.map(p => p.name).join(rule.separator)
  const { parts, problems, proposal } = readName(rule, name)
  return (
    <Text fontSize="12px" color={name && parts === null ? 'alarm' : 'quiet'} aria-live="polite">
      {name === ''
        ? `named as ${pattern}`
        : parts
          ? `keeps to ${pattern}`
          : `${nameProblemWords(problems)}; named as ${pattern}. `}
      {name !== '' && proposal && (
        <Button variant="plain" onClick={() => take(proposal)}>
          Use {proposal}
        </Button>
      )}
    </Text>
  )
}
