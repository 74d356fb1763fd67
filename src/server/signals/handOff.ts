import type { AddressConditions } from '@/core/signals/matchAddress'
import type { PageSpec, WantedTag } from '@/core/signals/pageCheck'
import { fillCode, needsOf, type TagCode } from '@/core/signals/tagCode'
import type { Database } from '@/data/connect'
import { listDefinitions, listRules, listSlots } from '@/data/signals'
import { listProfiles } from '@/data/workspace'
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
  return {
    tag: fillCode(ownCode().base, { account: key }),
    rules: rules.length,
    networks: profiles.map(profile => ({
      id: profile.id,
      name: profile.name,
      account: profile.account ?? null,
      code: profile.tag ?? null,
      base: profile.tag && profile.account ? fillCode(profile.tag.base, { account: profile.account }) : '',
      events: definitions
        .filter(d => !d.archived)
        .flatMap((d): HandOffEvent[] => {
          const slot = slots.find(s => s.network === profile.id && s.result === d.id)?.slot
          if (!slot || !profile.tag?.event) return []
          const code = profile.tag.event.replaceAll('{event}', slot)
          return [{ result: d.name, slot, code, where: pagesOf(d.id) }]
        }),
    })),
  }
}

/** What should stand on a page, by the hand-off. */
export async function pageSpecOf(database: Database, workspace: string, page: string): Promise<PageSpec> {
  const { networks } = await describeHandOff(database, workspace)
  const account = await siteKeyOf(database, workspace)
  const theirs = networks.flatMap((n): WantedTag[] =>
    n.code && n.account
      ? [
          {
            network: n.id,
            account: n.account,
            code: n.code,
            events: n.events.flatMap(e =>
              e.where && n.code!.event.includes('{event}')
                ? [
                    {
                      name: e.slot,
                      on: { any: [...e.where.any], none: [...e.where.none] },
                      needs: needsOf(n.code!),
                    },
                  ]
                : [],
            ),
          },
        ]
      : [],
  )
  return { page, tags: [{ network: 'Aequant', account, code: ownCode(), events: [] }, ...theirs] }
}

const fence = (code: string) => `\`\`\`html\n${code}\n\`\`\``

/** The hand-off as Markdown, for whoever looks after the site. */
export function writeHandOff(
  { tag, rules, networks }: HandOff,
  words: (where: AddressConditions) => string,
): string {
  const ready = networks.filter(n => n.base !== '')
  return `${[
    '# Tags to place on the site',
    '## 1. On every page',
    'Directly before `</head>`, or where the shop system, the tag manager or the page builder has its field for code in the head. Once, and nothing else of it.',
    fence(tag),
    `${rules} ${rules === 1 ? 'rule runs' : 'rules run'} in it by itself; new ones need no change of the site.`,
    ...ready.flatMap((n, i) => [
      `## ${i + 2}. ${n.name}, account ${n.account}`,
      'On every page, in the head, after the tag above:',
      fence(n.base),
      ...n.events.flatMap(e => [
        `### ${e.result}, which ${n.name} calls ${e.slot}`,
        `${e.where ? `Only on ${words(e.where)}` : 'Only where it comes about'}, after the code above and without repeating it. Put the shop’s own values where braces stand.`,
        fence(e.code.includes('<') ? e.code : `<script>${e.code}</script>`),
      ]),
    ]),
  ].join('\n\n')}\n`
}
