import { DataList } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** What is settled, each with its name. */
export const SettledList = ({ items }: { items: readonly (readonly [name: string, value: ReactNode])[] }) => (
  <DataList.Root orientation="horizontal" gap="1" mt="2" maxWidth="46rem">
    {items.map(([name, value]) => (
      <DataList.Item key={name}>
        <DataList.ItemLabel minWidth="min(14rem, 45%)" fontSize="13px" color="quiet">
          {name}
        </DataList.ItemLabel>
        <DataList.ItemValue fontSize="13px">
          <span>{value}</span>
        </DataList.ItemValue>
      </DataList.Item>
    ))}
  </DataList.Root>
)
