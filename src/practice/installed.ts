import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import * as z from 'zod'
import { addressConditionsSchema } from '@/core/signals/address'
import { fillCode } from '@/core/signals/codePlaces'
import type { Place } from '@/core/signals/fillCode'
import { matchesAddress } from '@/core/signals/matchAddress'

/** What the hand-off asks the shop to place. */
const installSchema = z.object({
  tag: z.string(),
  networks: z.array(
    z.object({
      account: z.string().nullable(),
      base: z.string(),
      events: z.array(z.object({ code: z.string(), where: addressConditionsSchema.nullable() })),
    }),
  ),
})
type Install = z.infer<typeof installSchema>

/** Ways in which the shop's tags can be wrong on purpose, so that each finding can be met. */
export const breakages = {
  none: 'nothing is broken',
  base_missing: 'the base code is missing',
  base_twice: 'the base code is there twice',
  base_not_in_head: 'the base code stands in the body',
  event_before_base: 'the order’s event code stands before the base code',
  event_wrong_page: 'the order’s event code stands on the pages of the kits',
  wrong_account: 'the base code names another account',
  currency_missing: 'the order’s event code says no currency',
  insecure_tag: 'the base code is fetched without encryption',
  script_error: 'the order’s event code has a slip of the pen',
} as const
export type Breakage = keyof typeof breakages
export const isBreakage = (text: string): text is Breakage => text in breakages

/** What the page knows of the order that it shows. */
export type OrderValues = Pick<Partial<Record<Place, string>>, 'value' | 'currency' | 'transaction' | 'test'>
/** Code for one page: for its head, and for the end of its body. */
export interface PageTags {
  head: string
  body: string
}

const asScript = (code: string) => (code.includes('<') ? code : `<script>${code}</script>`)

/** The tags of the shop: placed as the hand-off says, or broken as the switch says. */
export function installedTags(file: string) {
  let install: Install = existsSync(file)
    ? installSchema.parse(JSON.parse(readFileSync(file, 'utf8')))
    : { tag: '', networks: [] }
  /** for every visitor: a page check has no cookie */
  let broken: Breakage = 'none'

  function take(sheet: unknown): void {
    install = installSchema.parse(sheet)
    mkdirSync(dirname(file), { recursive: true })
    writeFileSync(file, JSON.stringify(install))
  }

  const eventCode = (code: string, values: OrderValues) => {
    const filled = fillCode(code, broken === 'currency_missing' ? { ...values, currency: '' } : values)
    return asScript(broken === 'script_error' ? filled.replace(/\)\s*$/, '') : filled)
  }

  /** @param asksConsent whether the shop asks before it follows anybody */
  function tagsOf(address: string, order: OrderValues, asksConsent: boolean): PageTags {
    const tag = asksConsent
      ? install.tag.replace('<script ', '<script data-consent="required" ')
      : install.tag
    const head: string[] = []
    const body: string[] = []
    for (const { account, base, events } of install.networks) {
      const here = events.filter(({ where }) => where && matchesAddress(where, address))
      const stray = broken === 'event_wrong_page' && new URL(address).pathname === '/kits' ? events : []
      const codes = [
        ...here.map(e => eventCode(e.code, order)),
        ...stray.map(e => eventCode(e.code, { value: '149.00', currency: 'EUR', transaction: 'K1' })),
      ]
      if (broken === 'event_before_base') head.push(...codes)
      else body.push(...codes)
      if (broken === 'base_not_in_head') body.unshift(base)
      else if (broken !== 'base_missing') head.push(brokenBase(base, account ?? ''))
      if (broken === 'base_twice') head.push(base)
    }
    return { head: [tag, ...head].join('\n'), body: body.join('\n') }
  }

  const brokenBase = (base: string, account: string) =>
    broken === 'wrong_account'
      ? base.replaceAll(account, 'somebody-else')
      : broken === 'insecure_tag'
        ? base.replace(/https?:\/\/([^/"'.]+)\.localhost(:\d+)?/g, 'http://tags.$1.example')
        : base

  return {
    take,
    tagsOf,
    broken: () => broken,
    breakAs: (how: Breakage) => {
      broken = how
    },
  }
}
