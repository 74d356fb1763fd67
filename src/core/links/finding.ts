import type { Severity } from '../shared/finding'
import type { PlanLevel } from './profile'

/** Where in a link a finding sits: the destination, a parameter, a sub-ID, a name, or the whole address. */
export type LinkPlace =
  | { part: 'destination' }
  | { part: 'address' }
  | { part: 'parameter'; key: string; level?: PlanLevel }
  | { part: 'sub_id'; index: number }
  | { part: 'name'; level: PlanLevel; id: string }
  | { part: 'level'; level: PlanLevel }

type Fact<Code extends string, S extends Severity, Facts = unknown> = {
  code: Code
  severity: S
  at: LinkPlace
} & Facts

/** What can be noticed of names of campaigns, ad sets and ads. */
export type NameFinding =
  | Fact<'default_name', 'warning', { name: string }>
  | Fact<'name_changed', 'warning', { names: string[] }>
  | Fact<'duplicate_name', 'warning', { name: string; ids: string[] }>
  | Fact<'reserved_character_in_name', 'hint', { name: string; characters: string }>

/** Everything a check of a link can notice. Words for each are chosen where they are shown. */
export type LinkFinding =
  | Fact<'not_an_address', 'error', { text: string }>
  | Fact<'second_question_mark', 'warning'>
  | Fact<'parameters_after_fragment', 'warning'>
  | Fact<'parameters_without_question_mark', 'warning'>
  | Fact<'duplicate_key', 'warning', { key: string; kept: string; dropped: string }>
  | Fact<'unknown_token', 'error', { token: string; instead: string | null }>
  | Fact<'foreign_dialect', 'error', { text: string; profile: string }>
  | Fact<'misspelled_token', 'error', { text: string; token: string | null }>
  | Fact<'empty_on_test', 'hint', { token: string }>
  | Fact<'id_where_name_exists', 'hint', { token: string; name: string }>
  | Fact<'token_in_nested_address', 'warning', { token: string }>
  | Fact<'too_many_sub_ids', 'error', { limit: number; given: number }>
  | Fact<'password_in_address', 'error'>
  | Fact<'not_https', 'warning'>
  | Fact<'host_not_listed', 'error', { host: string }>
  | Fact<'too_long', 'error', { length: number; limit: number }>
  | Fact<'missing_source', 'warning', { key: string }>
  | Fact<'missing_campaign', 'warning', { key: string }>
  | Fact<'mixed_case', 'hint', { value: string }>
  | Fact<'personal_data', 'error', { kind: 'email' | 'phone' }>
  | Fact<'edit_causes_review', 'hint', { level: PlanLevel; instead: PlanLevel | null }>
  | NameFinding
