import { conversionHeading } from '@/core/intake/reports/conversions'
import {
  type ConversionColumns,
  type ReportField,
  type ReportMapping,
  reportFields,
} from '@/core/intake/reports/mapping'
import type { ColumnChoices } from './ColumnsTable'

const parts = ['click_through', 'view_through', 'value'] as const
const partWords = { click_through: 'after a click', view_through: 'after a view', value: 'value' }
/** A column of a conversion that has none yet. */
const ANOTHER = 'another'

/** What a report's columns can be: of each field one, and of further conversions each their own. */
export function columnChoices(
  { columns, further }: ReportMapping,
  correct: (change: Partial<ReportMapping>) => void,
): ColumnChoices {
  const fields = Object.entries(reportFields) as [ReportField, string][]
  const without = (heading: string): Pick<ReportMapping, 'columns' | 'further'> => ({
    columns: Object.fromEntries(Object.entries(columns).filter(([, own]) => own !== heading)),
    further: further.map(
      one =>
        Object.fromEntries(
          Object.entries(one).filter(([key, own]) => key === 'conversion' || own !== heading),
        ) as ConversionColumns,
    ),
  })
  const isUsed = (one: ConversionColumns) => parts.some(part => one[part])
  return {
    choices: [
      ...fields,
      ...further.flatMap(({ conversion }, i) =>
        parts.map(part => [`${i} ${part}`, `${conversion}: ${partWords[part]}`] as const),
      ),
      [ANOTHER, 'another conversion'],
    ],
    fieldOf: heading => {
      const [field] = fields.find(([name]) => columns[name] === heading) ?? []
      if (field) return field
      for (const [i, one] of further.entries())
        for (const part of parts) if (one[part] === heading) return `${i} ${part}`
      return ''
    },
    choose: (heading, value) => {
      const rest = without(heading)
      const [place, part] = value.split(' ')
      if (value === ANOTHER) {
        const told = conversionHeading(heading)
        rest.further.push({
          conversion: told?.conversion ?? heading.toLowerCase().slice(0, 100),
          [told?.holds ?? 'click_through']: heading,
        })
      } else if (part)
        rest.further = rest.further.map((one, i) => (String(i) === place ? { ...one, [part]: heading } : one))
      else if (value) rest.columns = { ...rest.columns, [value]: heading }
      correct({ columns: rest.columns, further: rest.further.filter(isUsed) })
    },
  }
}
