import { Flex } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { type DateOrder, type DecimalMark, dateOrders, decimalMarks } from '@/core/intake/reports/cells'
import { SelectField, TextField } from '../parts/Fields'
import { dateOrderWords, decimalWords } from './reportWords'

interface Forms {
  date_order: DateOrder
  decimal: DecimalMark
  currency: string
  time_zone: string
}

/** How a file writes days and amounts, in which currency and zone; each may be corrected. */
export const WrittenAs = ({
  forms,
  correct,
  children,
}: {
  forms: Forms
  correct: (change: Partial<Forms>) => void
  children?: ReactNode
}) => (
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
    {children}
  </Flex>
)
