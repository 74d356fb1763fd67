'use server'
import { refresh } from 'next/cache'
import { v7 } from 'uuid'
import * as z from 'zod'
import { namingRuleSchema } from '@/core/links/naming'
import type { FieldProblem } from '@/core/signals/templateProblems'
import { sharedDatabase } from '@/data/connect'
import { saveNamingRule as keepNamingRule, removeNamingRule } from '@/data/namingRules'
import { addAd as addNewAd, type NewAd, putOnPractice } from '@/server/links/changes'
import { keepHosts } from '@/server/links/hosts'
import { bringLinkBack, keepLink, type LinkForm } from '@/server/links/library'
import { keepProfile } from '@/server/links/profiles'
import { type Assigned, assignValue, joinChosen } from '@/server/links/unknownValues'
import { isPractised } from '@/server/practice'
import { workspaceHere } from '../frame'

/** Adds an ad with what stands above it. Gives what is wrong, or null when it is done. */
export async function addAd(ad: NewAd): Promise<string | null> {
  return addNewAd(sharedDatabase(), await workspaceHere(), ad, Date.now())
}

/** Says what a value of addresses means. Gives how many clicks are read by it, or why it cannot be. */
export async function assignUnknownValue(given: unknown): Promise<Assigned> {
  const asked = assignedSchema.parse(given)
  const done = await assignValue(sharedDatabase(), await workspaceHere(), asked, Date.now())
  if ('clicks' in done) refresh()
  return done
}
const assignedSchema = z.object({
  network: z.string().max(200),
  level: z.enum(['campaign', 'ad_set', 'ad']),
  value: z.string().min(1).max(500),
  called: z.string().trim().min(1).max(500),
})

/** Gives what was added without an ID the one that was chosen. Gives what is wrong, or null when it is done. */
export async function joinNew(given: unknown): Promise<string | null> {
  const problem = await joinChosen(sharedDatabase(), (await workspaceHere()).id, joinedSchema.parse(given))
  if (problem === null) refresh()
  return problem
}
const joinedSchema = z.object({
  network: z.string().max(200),
  level: z.enum(['campaign', 'ad_set', 'ad']),
  id: z.string().min(1).max(200),
  real: z.string().min(1).max(200),
})

/** Puts ads' present addresses into the practice network. Says whether it took them. */
export async function putAdsOnPractice(network: string, adIds: string[]): Promise<boolean> {
  return isPractised(network) && putOnPractice(sharedDatabase(), await workspaceHere(), network, adIds)
}

/** Keeps a network profile. Gives what is wrong with which field; nothing when it is kept. */
export async function saveProfile(profile: unknown, isNew: boolean): Promise<FieldProblem[]> {
  const problems = await keepProfile(sharedDatabase(), await workspaceHere(), profile, { isNew })
  if (problems.length === 0) refresh()
  return problems
}

/** Keeps a link of the library. Gives what is wrong, or null when it is done. */
export async function saveLibraryLink(
  code: string,
  known: string | null,
  form: LinkForm,
): Promise<string | null> {
  const problem = await keepLink(sharedDatabase(), await workspaceHere(), code, known, form, Date.now())
  if (problem === null) refresh()
  return problem
}

/** Brings back what a link of the library was until an instant, in ms. Gives what is wrong, or null. */
export async function bringLibraryLinkBack(code: string, until: number): Promise<string | null> {
  const problem = await bringLinkBack(sharedDatabase(), await workspaceHere(), code, until, Date.now())
  if (problem === null) refresh()
  return problem
}

/** Keeps a naming rule, under a new ID where it has none. Gives what is wrong, or null when it is done. */
export async function saveNamingRule(id: string, rule: unknown): Promise<string | null> {
  const read = namingRuleSchema.safeParse(rule)
  if (!read.success) return z.prettifyError(read.error)
  const workspace = await workspaceHere()
  await keepNamingRule(sharedDatabase(), workspace.id, z.string().max(100).parse(id) || v7(), read.data)
  refresh()
  return null
}

export async function dropNamingRule(id: string): Promise<void> {
  await removeNamingRule(sharedDatabase(), (await workspaceHere()).id, z.string().parse(id))
  refresh()
}

/** Keeps the hosts that ads may lead to; none means any. Gives what is wrong, or null when it is done. */
export async function saveHosts(hosts: string[]): Promise<string | null> {
  const problem = await keepHosts(sharedDatabase(), await workspaceHere(), hosts)
  if (problem === null) refresh()
  return problem
}

/** Lists hosts beside those that are listed. Gives what is wrong, or null when it is done. */
export async function listHosts(hosts: string[]): Promise<string | null> {
  const workspace = await workspaceHere()
  return keepHosts(sharedDatabase(), workspace, [...workspace.settings.hosts, ...hosts])
}
