import type { NetworkProfile } from '@/core/links/profile'
import type { AddressConditions } from '@/core/signals/addressMatcher'
import { fillCode, fillKnown } from '@/core/signals/codePlaces'
import type { PageSpec, WantedTag } from '@/core/signals/pageCheck'
import { usualWorth } from '@/core/signals/result'
import { needsOf, type TagCode } from '@/core/signals/tagCode'
import type { Database } from '@/data/connect'
import { listDefinitions, listRules, listSlots } from '@/data/signals'
import { listProfiles } from '@/data/workspace'
import { askPractice } from '../practice'
import { siteKeyOf, trackingOrigin } from '../routes'

export interface HandOffEvent {
  result: string
  slot: string
  /** the code for the page; places that the shop fills in stand as they are */
  code: string
  /** the pages on which it belongs; null where no page rule says so */
  where: AddressConditions | null
}
export interface HandOff {
  /** Aequant's own tag, for every page */
  tag: string
  rules: number
  networks: {
    id: string
    name: string
    account: string | null
    code: TagCode | null
    /** our tag places it, or the site does */
    placedBy: NetworkProfile['placed_by']
    base: string
    events: HandOffEvent[]
  }[]
}

/** Aequant's tag as the page check looks for it. */
const ownCode = (): TagCode => ({
  base: `<script async src="${trackingOrigin()}/aq.js" data-site="{account}"></script>`,
  event: '',
  requests: {
    script: `${trackingOrigin()}/aq.js`,
    hit: `${trackingOrigin()}/e`,
    parameters: {},
    page_view: 'page',
  },
})

/** What a developer places on a site: our tag, and each network's own code with our account and events. */
export async function describeHandOff(database: Database, workspace: string): Promise<HandOff> {
  const [profiles, definitions, slots, rules, key] = [
    await listProfiles(database, workspace),
    await listDefinitions(database, workspace),
    await listSlots(database, workspace),
    await listRules(database, workspace),
    await siteKeyOf(database, workspace),
  ]
  const pagesOf = (result: string): AddressConditions | null =>
    rules.find(r => r.result === result && r.when.on === 'page')?.where ?? null
  const hasTransaction = (result: string) =>
    definitions.some(d => d.id === result && d.kind === 'order') ||
    rules.some(r => r.result === result && r.facts.transaction)
  return {
    // With its site in the address the script brings along what it does there.
    tag: fillCode(ownCode().base.replace('/aq.js"', '/aq.js?site={account}"'), { account: key }),
    rules: rules.length,
    networks: profiles.map(profile => ({
      id: profile.id,
      name: profile.name,
      account: profile.account ?? null,
      code: profile.tag ?? null,
      placedBy: profile.placed_by,
      base: profile.tag && profile.account ? fillCode(profile.tag.base, { account: profile.account }) : '',
      events: definitions
        .filter(d => !d.archived)
        .flatMap((d): HandOffEvent[] => {
          const slot = slots.find(s => s.network === profile.id && s.result === d.id)?.slot
          if (!slot || !profile.tag?.event) return []
          const usual = usualWorth(d)
          const known = {
            account: profile.account ?? '',
            event: slot,
            ...(usual.value ? usual : {}),
          }
          // Under the same ID as our server tells it, so that it counts once.
          const told = hasTransaction(d.id)
            ? profile.tag.event.replaceAll('{event_id}', `${d.id}.{transaction}`)
            : profile.tag.event
          const code = fillKnown(told, known)
          return [{ result: d.name, slot, code, where: pagesOf(d.id) }]
        }),
    })),
  }
}

/** What a network's tag should do on a page: its own code, and its events on the pages of their rules. */
export const wantedOf = ({ id, account, code, events }: HandOff['networks'][number]): WantedTag[] =>
  code && account
    ? [
        {
          network: id,
          account,
          code,
          events: events.flatMap(e =>
            e.where && code.event.includes('{event}')
              ? [
                  {
                    name: e.slot,
                    on: { any: [...e.where.any], none: [...e.where.none] },
                    needs: needsOf(code),
                  },
                ]
              : [],
          ),
        },
      ]
    : []

/** What should stand on a page, by the hand-off: what our tag places does not stand there. */
export async function pageSpecOf(database: Database, workspace: string, page: string): Promise<PageSpec> {
  const { networks } = await describeHandOff(database, workspace)
  const account = await siteKeyOf(database, workspace)
  const theirs = networks.filter(n => n.placedBy === 'site').flatMap(wantedOf)
  return { page, tags: [{ network: 'Aequant', account, code: ownCode(), events: [] }, ...theirs] }
}

/** Code in Markdown, fenced by more marks than stand in it (CommonMark, 4.5). */
function fence(code: string): string {
  const longest = Math.max(2, ...(code.match(/`+/g) ?? []).map(run => run.length))
  const mark = '`'.repeat(longest + 1)
  return `${mark}html\n${code}\n${mark}`
}
/** A name in Markdown, one line of text whatever it holds (CommonMark, 2.4). */
const plainly = (name: string): string =>
  name.replace(/\s+/g, ' ').replace(/[\\`*_{}[\]<>#|&!~]/g, mark => `\\${mark}`)

/** Where a thing can be placed, for those who have no file of the site to change. */
export const commonPlaces: readonly [place: string, how: string][] = [
  [
    'A shop system',
    'Its settings have a field for code in the head of all pages; often the thank-you page has one of its own.',
  ],
  [
    'A tag manager',
    'Make an entry of custom HTML that runs on all pages, before others; give events an entry each, on their own pages only.',
  ],
  [
    'A page builder',
    'Page settings have a field for code in the head. A block of HTML within the page is the body: take the head’s field.',
  ],
  ['A theme or template', 'Directly before </head> in the file that all pages share.'],
  [
    'A page with a Content Security Policy',
    'Allow the tag’s host for scripts and connections and give the tag the page’s nonce, which it passes on to what it places; under Trusted Types allow the policy aequant.',
  ],
  [
    'A checkout on another host',
    'Place the tag there too, and list both hosts (Links, Names): what leads from one to the other carries the click along.',
  ],
]

/** Networks whose code the site places itself, with what each step of the sheet says. */
export const placedBySite = ({ networks }: HandOff) =>
  networks.filter(n => n.base !== '' && n.placedBy === 'site')
export const placedByTag = ({ networks }: HandOff) =>
  networks.filter(n => n.base !== '' && n.placedBy === 'tag')

/** The hand-off as Markdown, for whoever looks after the site. */
export function writeHandOff(handOff: HandOff, words: (where: AddressConditions) => string): string {
  const { tag, rules } = handOff
  const [own, along] = [placedBySite(handOff), placedByTag(handOff)]
  return `${[
    '# Tags to place on the site',
    '## 1. On every page',
    'Directly before `</head>`, once, and nothing else of it:',
    fence(tag),
    `${rules} ${rules === 1 ? 'rule runs' : 'rules run'} in it by itself; new ones need no change of the site.`,
    ...(along.length > 0
      ? [
          `It also places the code of ${along.map(n => plainly(n.name)).join(', ')}: take away what is on the pages of theirs, or they hear everything twice.`,
        ]
      : []),
    ...commonPlaces.map(([place, how]) => `- **${place}.** ${how}`),
    ...own.flatMap((n, i) => [
      `## ${i + 2}. ${plainly(n.name)}, account ${plainly(n.account ?? '')}`,
      'On every page, in the head, after the tag above:',
      fence(n.base),
      ...n.events.flatMap(e => [
        `### ${plainly(e.result)}, which ${plainly(n.name)} calls ${plainly(e.slot)}`,
        `${e.where ? `Only on ${plainly(words(e.where))}` : 'Only where it comes about'}, after the code above and without repeating it. Put the shop’s own values where braces stand; \`{test}\` is \`yes\` where the order was placed with a hidden field \`data-aq="test"\` that is not empty, and else nothing.`,
        fence(e.code.includes('<') ? e.code : `<script>${e.code}</script>`),
      ]),
    ]),
    '## In order forms',
    'Hidden fields that the tag fills in, so that an order knows where it came from and whether it is a test:',
    fence(hiddenFields),
  ].join('\n\n')}\n`
}

/** Fields of an order form that the tag fills in. */
export const hiddenFields = ['click_id', 'visitor_id', 'test']
  .map(name => `<input type="hidden" name="${name}" data-aq="${name}">`)
  .join('\n')

/** Has the practice shop place what the hand-off says. Gives whether it did. */
export async function installOnPractice(database: Database, workspace: string): Promise<boolean> {
  const handOff = await describeHandOff(database, workspace)
  const networks = placedBySite(handOff).map(({ account, base, events }) => ({ account, base, events }))
  const answer = await askPractice('shop.tarnbrook', '/install', {
    type: 'application/json',
    body: JSON.stringify({ tag: handOff.tag, networks }),
  })
  return answer?.status === 200
}
