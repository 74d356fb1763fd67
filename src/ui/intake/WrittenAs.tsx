import { Flex } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import type { HowRead, ReadAs } from '@/core/intake/readAs'
import { type DecimalMark, decimalMarks } from '@/core/intake/reports/cells'
import { type DateOrder, dateOrders } from '@/core/intake/reports/moment'
import { type Encoding, encodings } from '@/core/shared/encodings'
import { useFormats } from '../format'
import { SelectField, TextField } from '../parts/Fields'
import { dateOrderWords, decimalWords } from './reportWords'

const encodingWords: Record<Encoding, string> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16 (little-endian)',
  'utf-16be': 'UTF-16 (big-endian)',
  'windows-1252': 'Western European (Windows-1252)',
  'windows-1250': 'Central European (Windows-1250)',
  'iso-8859-2': 'Central European (ISO 8859-2)',
  'windows-1251': 'Cyrillic (Windows-1251)',
  shift_jis: 'Japanese (Shift JIS)',
  gb18030: 'Chinese (GB 18030)',
}

interface Forms {
  date_order: DateOrder
  decimal: DecimalMark
  currency: string
  time_zone: string
}

/** How a file writes days and amounts, in which currency and zone; each may be corrected. */
export function WrittenAs({
  forms,
  correct,
  how: { encoding, sheets, read },
  readAs,
  children,
}: {
  forms: Forms
  correct: (change: Partial<Forms>) => void
  how: HowRead
  /** reads the file again, in another encoding or another sheet */
  readAs: (change: Partial<ReadAs>) => void
  children?: ReactNode
}) {
  const { count } = useFormats()
  return (
    <Flex gap="4" mt="3" fontSize="13px" wrap="wrap" align="center">
      <SelectField
        beside
        width="auto"
        label="Days are"
        value={forms.date_order}
        change={chosen => correct({ date_order: dateOrders.find(o => o === chosen) ?? forms.date_order })}
        choices={dateOrders.map(order => [order, dateOrderWords[order]])}
      />
      <SelectField
        beside
        width="auto"
        label="Fractions after"
        value={forms.decimal}
        change={chosen => correct({ decimal: decimalMarks.find(m => m === chosen) ?? forms.decimal })}
        choices={decimalMarks.map(mark => [mark, decimalWords[mark]])}
      />
      <TextField
        beside
        width="auto"
        label="Currency"
        value={forms.currency}
        change={text => correct({ currency: text.toUpperCase() })}
        input={{ htmlSize: 4 }}
      />
      <TextField
        beside
        width="auto"
        label="In the zone"
        value={forms.time_zone}
        change={time_zone => correct({ time_zone })}
        input={{ htmlSize: 16 }}
      />
      {encoding !== null && (
        <SelectField
          beside
          width="auto"
          label="Encoding"
          value={encoding}
          change={chosen => readAs({ encoding: encodings.find(one => one === chosen) ?? encoding })}
          choices={encodings.map(one => [one, encodingWords[one]])}
        />
      )}
      {sheets.length > 1 && (
        <SelectField
          beside
          width="auto"
          label="Sheet"
          value={read.length === 1 ? read[0]! : ''}
          change={chosen => readAs({ sheet: chosen || null })}
          choices={[
            ...(read.length > 1 ? [['', `${read.join(', ')}: the same headings`] as const] : []),
            ...sheets.map(({ name, rows }) => [name, `${name} (${count(rows)} rows)`] as const),
          ]}
        />
      )}
      {children}
    </Flex>
  )
}
