import { randomUUID } from 'node:crypto'
import { guessMapping } from '@/core/intake/reports/guess'
import {
  levelOf,
  problemsOf,
  type ReportMapping,
  reportMappingSchema,
  tellsClaims,
  tellsSpend,
} from '@/core/intake/reports/mapping'
import {
  type DaySum,
  type ReadReport,
  readReport,
  sumByConversion,
  sumByDay,
} from '@/core/intake/reports/read'
import { networkRules } from '@/core/intake/settings'
import { readStretch } from '@/core/intake/stretch'
import { append } from '@/core/shared/append'
import { type Day, formatDay } from '@/core/shared/days'
import { minor, parseAmount } from '@/core/shared/money'
import { converter } from '@/core/shared/rates'
import type { Database } from '@/data/connect'
import { currentImport } from '@/data/importLog'
import { keepAside } from '@/data/intake'
import { loadRates } from '@/data/loadRecords'
import { findMapping, heldByDay, heldStretches, replaceDays, saveMapping } from '@/data/reports'
import {
  type ImportOutcome,
  listEntities,
  listProfiles,
  raiseVersion,
  recordBatch,
  type Workspace,
} from '@/data/workspace'
import { readSheet } from '@/formats/sheet'
import { keepNetworkRules } from '../counting'
import { adsWereNamed } from '../links/unknownValues'
import { daysByCurrency, type MissingRates } from '../missingRates'
import { inWords } from '../words'
import { settleReport } from './corrected'
import { everySome, rateFinder, type Watch } from './importFile'
import { checkRowNames, type NameCheck } from './names'
import { whoseReport } from './whoseReport'

const SAMPLE_ROWS = 200

/** The first rows of a network's report, with the mapping that was saved for it, or a guess. */
export async function lookAtReport(
  database: Database,
  workspace: Workspace,
  network: string,
  content: string,
) {
  const { header, lines } = readSheet(content, 'The report')
  const rows = lines.slice(0, SAMPLE_ROWS).map(line => [...line.cells])
  const profile = (await listProfiles(database, workspace.id)).find(p => p.id === network) ?? null
  const { time_zone } = networkRules(workspace.settings, network)
  const { currency } = workspace.settings
  const guess = guessMapping({ header, rows }, profile, { currency, time_zone })
  const saved = await findMapping(database, workspace.id, network, reportMappingSchema)
  const fits = saved !== null && problemsOf(saved, header).length === 0
  const seems = await whoseReport(database, workspace.id, { header, rows }, { currency, time_zone }, network)
  return {
    header,
    /** the first rows: some are shown, by all of them forms are guessed */
    rows,
    /** another network whose campaigns it names, or whose last report had its columns; null where it may be this one's */
    seemsOf: seems === network ? null : seems,
    mapping: fits ? saved : guess.mapping,
    doubts: fits ? [] : guess.doubts,
    saved: fits,
  }
}
export type ReportLook = Awaited<ReturnType<typeof lookAtReport>>

export interface ReportInput {
  network: string
  file: string
  mapping: ReportMapping
  content: string
}

/** Reads a whole report by a mapping; what has no exchange rate is rejected. */
async function readWhole(
  database: Database,
  workspace: Workspace,
  { network, file, mapping, content }: ReportInput,
  progress?: Watch['progress'],
): Promise<ReadReport & { withoutRate: MissingRates[] }> {
  const { header, lines, damaged } = readSheet(content, file)
  const named = new Map(
    (await listEntities(database, workspace.id))
      .filter(e => e.network === network)
      .map(e => [`${e.level} ${e.name}`, e.id]),
  )
  const read = readReport(
    header,
    lines,
    mapping,
    network,
    (level, name) => named.get(`${level} ${name}`) ?? name,
    everySome(progress, lines.length),
  )
  const hasRate = await rateFinder(database, workspace)
  const priced = (row: { currency: string | null; date: Day }) =>
    row.currency === null || row.currency === workspace.settings.currency || hasRate(row.currency, row.date)
  const without = [...read.delivery, ...read.claims].filter(row => !priced(row))
  return {
    ...read,
    withoutRate: daysByCurrency(without.map(row => ({ currency: row.currency!, day: row.date }))),
    delivery: read.delivery.filter(priced),
    claims: read.claims.filter(priced),
    rejected: [
      ...damaged.map(({ line }) => ({ line, column: header[0] ?? '', reason: 'bad_quotes' as const })),
      ...read.rejected,
      ...without.map(row => ({
        line: read.lineOf.get(row) ?? 0,
        column: 'currency',
        reason: 'no_rate' as const,
        value: `${row.currency} on ${formatDay(row.date)}`,
      })),
    ],
  }
}

/** What a report would change: each of its days as it is held, and as the report has it. */
export async function compareReport(
  database: Database,
  workspace: Workspace,
  input: ReportInput,
  { progress }: Watch = {},
) {
  const read = await readWhole(database, workspace, input, progress)
  const after = sumByDay(read)
  const { currency } = input.mapping
  const before = new Map<Day, DaySum>()
  const convert = converter(await loadRates(database, workspace.id))
  const [first, last] = [after[0]?.day, after.at(-1)?.day]
  if (first !== undefined && last !== undefined)
    for (const row of await heldByDay(database, workspace.id, input.network, first, last)) {
      const own = row.currency ?? currency
      const into = (units: number) => convert(minor(units), own, currency, row.day) ?? 0
      const sum = before.get(row.day) ?? {
        day: row.day,
        spend: 0,
        impressions: 0,
        clicks: 0,
        claims: 0,
        value: 0,
      }
      before.set(row.day, {
        day: row.day,
        spend: sum.spend + into(row.spend),
        impressions: sum.impressions + row.impressions,
        clicks: sum.clicks + row.clicks,
        claims: sum.claims + row.claims,
        value: sum.value + into(parseAmount(row.value, own) ?? 0),
      })
    }
  const isReplaced = new Set(after.map(({ day }) => day))
  const stretches = (texts: readonly (string | null | undefined)[]) =>
    [...new Set(texts)].flatMap(text => readStretch(text) ?? [])
  const held =
    first === undefined || last === undefined
      ? []
      : stretches(await heldStretches(database, workspace.id, input.network, first, last))
  return {
    /** longer stretches of which it gives one sum, and those held of which it replaces some days alone */
    laid: stretches([...read.delivery, ...read.claims].map(row => row.stretch)).length,
    cut: held
      .filter(({ from, to }) => daysWithin(from, to).some(day => !isReplaced.has(day)))
      .map(({ from, to }) => ({ from: formatDay(from), to: formatDay(to) })),
    level: levelOf(input.mapping),
    currency,
    /** of each conversion, how many and what they are worth */
    conversions: sumByConversion(read.claims),
    tells: { spend: tellsSpend(input.mapping), claims: tellsClaims(input.mapping) },
    lines: read.delivery.length + read.claims.length,
    totals: read.totals,
    hidden: read.hidden,
    withoutRate: read.withoutRate,
    rejected: inWords(read.rejected.slice(0, 200)),
    rejectedCount: read.rejected.length,
    days: after.map(sum => ({ day: formatDay(sum.day), before: before.get(sum.day) ?? null, after: sum })),
  }
}
export type ReportDifference = Awaited<ReturnType<typeof compareReport>>

const daysWithin = (from: Day, to: Day) => Array.from({ length: to - from + 1 }, (_, i) => from + i)

/** Days replaced in one go: between two goes others get at the database. */
const ROWS_AT_ONCE = 2000

/** Takes a report in: each of its days replaces what was held of that day. Keeps the mapping for next time. */
export async function takeReport(
  database: Database,
  workspace: Workspace,
  input: ReportInput,
  { progress, signal }: Watch = {},
): Promise<ImportOutcome & { days: number; names: NameCheck }> {
  const { network, mapping, file } = input
  const read = await readWhole(database, workspace, input)
  await saveMapping(database, workspace.id, network, mapping)
  const rules = networkRules(workspace.settings, network)
  if (rules.time_zone !== mapping.time_zone)
    await keepNetworkRules(database, workspace, { ...rules, time_zone: mapping.time_zone })
  const byDay = new Map<Day, (ReadReport['delivery'][number] | ReadReport['claims'][number])[]>()
  for (const row of [...read.delivery, ...read.claims]) append(byDay, row.date, row)
  const days = [...byDay.keys()].sort((a, b) => a - b)
  const all = read.delivery.length + read.claims.length
  let accepted = 0
  let done = 0
  try {
    while (done < days.length && !signal?.aborted) {
      const some: Day[] = []
      let rows = 0
      do {
        rows += byDay.get(days[done]!)!.length
        some.push(days[done++]!)
      } while (done < days.length && rows + byDay.get(days[done]!)!.length <= ROWS_AT_ONCE)
      const within = <Row extends { date: Day }>(list: readonly Row[]) =>
        list.filter(row => some.includes(row.date))
      await database.transaction(inner =>
        replaceDays(inner, workspace.id, network, some, {
          delivery: tellsSpend(mapping) ? within(read.delivery) : null,
          claims: tellsClaims(mapping) ? within(read.claims) : null,
        }),
      )
      accepted += rows
      progress?.(accepted, all)
    }
  } finally {
    await raiseVersion(database, workspace.id, 'rules', 'delivery', 'claims')
    await adsWereNamed(database, workspace.id)
  }
  const outcome = { accepted, duplicates: 0, rejected: read.rejected, cancelled: done < days.length }
  const aside = read.rejected.map(({ line, column, reason, value }) => ({
    id: `report ${network} ${file}:${line} ${column} ${value}`.slice(0, 300),
    kind: 'row' as const,
    at: new Date(),
    reason,
    facts: { file: 'report', network, column },
    raw: JSON.stringify({ file, line, column, value, days }),
  }))
  await keepAside(database, workspace.id, aside)
  if (!outcome.cancelled) {
    const rejected = new Set(aside.map(item => item.id))
    await settleReport(database, workspace.id, network, days, rejected)
  }
  await recordBatch(
    database,
    workspace.id,
    { id: currentImport() ?? randomUUID(), kind: 'report', file, network, imported_at: new Date() },
    outcome,
  )
  const named = read.delivery.map(row => ({ ...row, network }))
  return { ...outcome, days: done, names: await checkRowNames(database, workspace.id, named) }
}
