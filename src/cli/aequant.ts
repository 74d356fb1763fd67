import { existsSync, readFileSync } from 'node:fs'
import { Command, CommanderError, InvalidArgumentError, Option } from 'commander'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { levels } from '@/core/intake/tree'
import { assembleLink, linkSpecSchema } from '@/core/links/assemble'
import { shippedProfiles } from '@/core/links/profiles'
import { everything, formatDay, parseDay, parsePeriod } from '@/core/shared/days'
import { pageSpecSchema } from '@/core/signals/pageCheck'
import { FileRefused } from '@/formats/csv'
import { writeFolder, writeRejects } from '@/formats/folder'
import { InvalidJson, parseJson } from '@/formats/json'
import { compareFolder, NothingOfThat } from '@/server/comparison'
import { judgeFolder, NoSuchResult } from '@/server/judging/judgeFolder'
import { BadInput, mayWrite, NotDone } from './badInput'
import { registerDatabaseCommands } from './databaseCommands'
import { pageFindingLine } from './pageFindingLine'
import { printComparison } from './printComparison'
import { printJudgement } from './printJudgement'

/** Last day of a market when none is named: the same seed then gives the same files on any day. */
const USUAL_END = '2026-11-15'

// Exit codes: 0 done, 1 failed, 2 bad input. Machine output goes to standard output, messages to standard error.

const toDay = (text: string) => {
  const day = parseDay(text)
  if (day === null) throw new InvalidArgumentError('write YYYY-MM-DD')
  return day
}
const toPeriod = (text: string) => {
  const period = parsePeriod(text)
  if (period === null) throw new InvalidArgumentError('write FROM..TO, both YYYY-MM-DD, FROM not after TO')
  return period
}
const toNumber = (text: string) => {
  const number = Number(text)
  if (!Number.isFinite(number) || number < 0) throw new InvalidArgumentError('a number of 0 or more')
  return number
}
const wholeAbove = (least: number) => (text: string) => {
  const number = toNumber(text)
  if (!Number.isInteger(number) || number < least)
    throw new InvalidArgumentError(`a whole number of ${least} or more`)
  return number
}

const program = new Command('aequant')
  .description('What one result cost, with the evidence behind it.')
  .exitOverride()
const command = (name: string, description: string) =>
  program.command(name).description(description).exitOverride()

command('judge', 'cost per result by campaign, ad set or ad, and the gap, from a folder of exchange files')
  .requiredOption(
    '--dir <folder>',
    'folder with delivery.csv, clicks.csv, orders.csv, claims … and settings.json',
  )
  .addOption(new Option('--level <level>', 'which rows').choices(levels).default('campaign'))
  .option('--from <date>', 'first day', toDay)
  .option('--to <date>', 'last day', toDay)
  .option('--result <id>', 'which result', JUDGED_RESULT)
  .option('--json', 'the whole judgement as JSON')
  .action(async options => {
    needFolder(options.dir)
    const period = { from: options.from ?? everything.from, to: options.to ?? everything.to }
    if (period.from > period.to) throw new BadInput('--from is after --to.')
    const { report, rejects, read, empty } = await judgeFolder(
      options.dir,
      options.level,
      period,
      options.result,
    )
    if (empty) throw new BadInput(`${options.dir} holds none of the exchange files.`)
    const path = writeRejects(options.dir, rejects)
    console.error(`${read} rows accepted, ${rejects.length} rejected${path ? `; listed in ${path}` : ''}.`)
    if (options.json) console.log(JSON.stringify(report, null, 2))
    else printJudgement(report)
  })

command('compare', 'what changed between two periods: the ads or the tracking, and since which day')
  .requiredOption('--dir <folder>', 'folder of exchange files, as judge takes it')
  .requiredOption('--first <from..to>', 'the period before, as 2026-10-01..2026-10-14', toPeriod)
  .requiredOption('--second <from..to>', 'the period after', toPeriod)
  .option('--network <id>', 'of one network alone')
  .option('--campaign <id>', 'of one campaign alone')
  .option('--result <id>', 'which result', JUDGED_RESULT)
  .option('--json', 'the comparison as JSON')
  .action(async options => {
    needFolder(options.dir)
    const { dir, result, json, ...asked } = options
    const comparison = await compareFolder(dir, asked, result)
    if (json) console.log(JSON.stringify(comparison, null, 2))
    else printComparison(comparison)
  })

command('link', 'assemble and check the address of an ad')
  .requiredOption('--spec <file>', 'JSON: profile, destination, plan, sub_ids, sample, hosts')
  .option('--json', 'fields, address, preview, origin and findings as JSON')
  .action(options => {
    needFile(options.spec)
    const spec = parseJson(readFileSync(options.spec, 'utf8'), linkSpecSchema, options.spec)
    const profile =
      typeof spec.profile === 'string' ? shippedProfiles.find(p => p.id === spec.profile) : spec.profile
    if (!profile)
      throw new BadInput(
        `No profile "${spec.profile}". There are: ${shippedProfiles.map(p => p.id).join(', ')}.`,
      )
    const { parameters: _, ...link } = assembleLink({
      ...spec,
      profile,
      subIds: spec.sub_ids,
      otherProfiles: shippedProfiles,
    })
    if (options.json) console.log(JSON.stringify(link, null, 2))
    else {
      console.log(link.address)
      for (const finding of link.findings)
        console.error(`${finding.severity}: ${finding.code} ${JSON.stringify(finding.at)}`)
    }
    if (link.findings.some(f => f.code === 'not_an_address'))
      throw new BadInput(`"${spec.destination}" is no http(s) address.`)
  })

command('check-page', 'check the tags of a page, or of a recorded visit')
  .requiredOption('--spec <file>', 'JSON: page, and tags with network, account, code and events')
  .addOption(new Option('--html <file>', 'the page as HTML').conflicts('har'))
  .option('--har <file>', 'a visit as an HTTP Archive recording')
  .option('--json', 'the findings as JSON')
  .action(async options => {
    const { checkPageFile } = await import('@/server/checkPage')
    needFile(options.spec)
    const kind = options.har ? 'har' : 'html'
    const file = options[kind]
    if (!file) throw new BadInput('Say what is checked: --html FILE or --har FILE.')
    needFile(file)
    const spec = parseJson(readFileSync(options.spec, 'utf8'), pageSpecSchema, options.spec)
    const findings = checkPageFile(spec, kind, readFileSync(file, 'utf8'), file)
    if (options.json) console.log(JSON.stringify({ page: spec.page, findings }, null, 2))
    else {
      for (const finding of findings) console.log(pageFindingLine(finding))
      if (findings.length === 0) console.log('Nothing is wrong.')
    }
  })

command('market', 'write the demo market as exchange files, with truth.json beside them')
  .requiredOption('--seed <n>', 'seed', wholeAbove(0))
  .requiredOption('--out <folder>', 'where to')
  .option('--days <n>', 'length in days', wholeAbove(1), 75)
  .option('--scale <s>', 'multiplies clicks and orders', toNumber, 1)
  .option('--copies <n>', 'copies of every campaign', wholeAbove(1), 1)
  .addOption(new Option('--end <date>', 'last day').argParser(toDay).default(parseDay(USUAL_END)!, USUAL_END))
  .option('--force', 'replace files that are there')
  .option('--json', 'what was written, as JSON')
  .action(async options => {
    const names = ['delivery', 'clicks', 'orders', 'claim-rows', 'claims'].map(name => `${name}.csv`)
    mayWrite(options.out, [...names, 'settings.json', 'truth.json'], options.force)
    const { simulateMarket } = await import('@/practice/market/simulate')
    const market = simulateMarket(options)
    writeFolder(
      options.out,
      {
        'delivery.csv': market.delivery,
        'clicks.csv': market.clicks,
        'orders.csv': market.orders,
        'claim-rows.csv': market.claimRows,
        'claims.csv': market.claims,
      },
      { 'settings.json': market.settings, 'truth.json': market.truth },
    )
    const written = {
      clicks: market.clicks.length,
      orders: market.orders.length,
      claims: market.claimRows.length,
      end: formatDay(options.end),
    }
    console.error(
      `Wrote ${written.clicks} clicks, ${written.orders} orders and ${written.claims} claims to ${options.out}.`,
    )
    if (options.json) console.log(JSON.stringify(written))
  })

registerDatabaseCommands(command)

function needFile(path: string): void {
  if (!existsSync(path)) throw new BadInput(`There is no ${path}.`)
}
const needFolder = needFile

try {
  await program.parseAsync()
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2
  else {
    const refused = [BadInput, FileRefused, InvalidJson, NoSuchResult, NothingOfThat].some(
      kind => error instanceof kind,
    )
    console.error(error instanceof Error && (refused || error instanceof NotDone) ? error.message : error)
    process.exitCode = refused ? 2 : 1
  }
}
