import { useEffect, useState } from 'react'
import {
  type NetworkStart,
  type NetworkTemplate,
  networkStartSchema,
  networkTemplates,
  usualStart,
} from '@/core/links/networkTemplates'
import { profileSchema, spellings } from '@/core/links/profile'
import { useFormats } from '../format'
import { NumberField, SelectField, TextField } from '../parts/Fields'
import { Fold } from '../parts/Fold'
import { FormPanel } from '../parts/FormPanel'
import { Note } from '../parts/Page'

export type BeginNetwork = (
  start: NetworkStart,
  described?: string,
) => Promise<{ id: string } | { problem: string }>

const words: Record<NetworkTemplate, string> = {
  none: 'it has no dynamic values, or I do not know yet',
  braces: 'in braces',
  square: 'in double square brackets',
  percent: 'between percent signs',
  angle: 'in angle brackets',
  tilde: 'between tildes',
  macro: 'as a macro of an exchange',
  sub_ids: 'a partner with sub-IDs',
}
const exampleOf = (template: NetworkTemplate): string | undefined =>
  spellings(profileSchema.shape.dialect.parse(networkTemplates[template].dialect)).find(
    ([, token]) => token === 'ad.id' || token === 'sub.1',
  )?.[0]
const choices = (Object.keys(words) as NetworkTemplate[]).map(template => {
  const example = exampleOf(template)
  return [template, example ? `${words[template]}: ${example}` : words[template]] as const
})

/**
 * A network of one's own in four questions; all else of its data sheet can be said later.
 *
 * @param described the ID under which reports name it already
 * @param made called with its ID
 */
export function StartNetwork({
  begin,
  described,
  made,
  close,
}: {
  begin: BeginNetwork
  described?: string
  made: (id: string) => void
  close: () => void
}) {
  const { count } = useFormats()
  const [sources, setSources] = useState<{ source: string; orders: number }[]>([])
  useEffect(() => {
    fetch('/api/sources')
      .then(answer => (answer.ok ? answer.json() : []))
      .then(setSources)
      // Without them the form is as it was.
      .catch(() => {})
  }, [])
  return (
    <FormPanel<NetworkStart>
      title={described ? `What ${described} is` : 'A network of your own'}
      schema={networkStartSchema}
      given={described ? { ...usualStart, name: described } : usualStart}
      shape={draft => ({ ...draft, click_id_parameter: draft.click_id_parameter || undefined })}
      keepWords="Begin it"
      save={async start => {
        const answer = await begin(start, described)
        if ('problem' in answer) return answer.problem
        made(answer.id)
        return null
      }}
      close={close}
    >
      {() => (
        <>
          <TextField
            label="Its name"
            name="name"
            suggestions={sources.map(one => one.source)}
            help={
              sources.length > 0
                ? 'Orders carry sources that are no network yet: they are offered here.'
                : undefined
            }
          />
          {sources.length > 0 && (
            <SelectField
              label="Orders carry it as"
              name="source"
              choices={[
                ['', 'its name, or not at all'],
                ...sources.map(
                  ({ source, orders }) =>
                    [source, `${source} (${count(orders)} ${orders === 1 ? 'order' : 'orders'})`] as const,
                ),
              ]}
            />
          )}
          <SelectField
            label="It writes dynamic values in addresses"
            name="template"
            choices={choices}
            help="Its help page on tracking parameters shows one. Its own words are said afterwards, under Links, Profiles."
          />
          <Fold title="Windows and its click ID">
            <NumberField
              label="It claims orders until this many days after a click"
              name="click_window_days"
              least={1}
              most={90}
            />
            <NumberField label="and after a view, 0 for never" name="view_window_days" least={0} most={90} />
            <SelectField
              label="A claim stands on the day of"
              name="dated_by"
              choices={[
                ['conversion', 'the conversion'],
                ['click', 'the click'],
              ]}
            />
            <TextField
              label="Its own click ID arrives as"
              name="click_id_parameter"
              mono
              help="the parameter that it adds to each address, where it adds one"
            />
          </Fold>
          <Note>What is usual stands there already. All of it can be changed later, and figures follow.</Note>
        </>
      )}
    </FormPanel>
  )
}
