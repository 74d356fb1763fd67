'use client'
import { Box, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { Moon, Sun } from 'lucide-react'
import { usePathname } from 'next/navigation'
import { useTheme } from 'next-themes'
import { JUDGED_RESULT } from '@/core/intake/settings'
import { CountingDialog } from './CountingDialog'
import type { Frame } from './frame'
import { heededAt } from './stations'
import { useScope } from './useScope'

const field = {
  height: '28px',
  borderWidth: '1px',
  borderColor: 'hairline',
  bg: 'sheet',
  px: '2',
  fontSize: '13px',
  whiteSpace: 'nowrap',
  flexShrink: 0,
} as const

/** Period and scope, once for all screens that heed them; they live in the address. */
export function ScopeBar({
  frame,
  counting,
  find,
}: {
  frame: Frame
  /** the dialog of counting rules */
  counting: {
    save: (form: FormData) => Promise<string | null>
    open: boolean
    setOpen: (open: boolean) => void
  }
  find: () => void
}) {
  const { set, changing } = useScope()
  const { resolvedTheme, setTheme } = useTheme()
  const { period, span } = frame
  const heeds = heededAt(usePathname())
  const last = (days: number) => {
    const to = span?.to ?? period.to
    const from = new Date(Date.parse(to) - (days - 1) * 86_400_000).toISOString().slice(0, 10)
    set({ from: span && from < span.from ? span.from : from, to })
  }
  return (
    <Flex
      as="header"
      align="center"
      gap="3"
      px="5"
      height="44px"
      borderBottomWidth="1px"
      borderColor="hairline"
      fontSize="13px"
      position="relative"
      flexShrink={0}
    >
      {changing && (
        <Box
          position="absolute"
          insetX="0"
          bottom="-1px"
          height="2px"
          bg="network"
          role="progressbar"
          aria-label="Working it out"
        />
      )}
      <Text
        fontWeight="650"
        truncate
        minWidth="0"
        title={`${frame.workspace}; days in ${frame.settings.time_zone}`}
      >
        {frame.workspace}
      </Text>
      {heeds.period && (
        <Flex align="center" gap="1.5" ml="2" flexShrink={0} title={`days in ${frame.settings.time_zone}`}>
          <input
            type="date"
            aria-label="First day"
            value={period.from}
            max={period.to}
            onChange={e => e.target.value && set({ from: e.target.value })}
            className="field"
          />
          <span aria-hidden>–</span>
          <input
            type="date"
            aria-label="Last day"
            value={period.to}
            min={period.from}
            onChange={e => e.target.value && set({ to: e.target.value })}
            className="field"
          />
          {[7, 28].map(days => (
            <Box
              as="button"
              key={days}
              {...field}
              cursor="pointer"
              _hover={{ bg: 'mark' }}
              onClick={() => last(days)}
            >
              {days} days
            </Box>
          ))}
          <Box
            as="button"
            {...field}
            cursor="pointer"
            _hover={{ bg: 'mark' }}
            onClick={() => span && set({ from: span.from, to: span.to })}
          >
            All
          </Box>
        </Flex>
      )}
      {heeds.network && (
        <NativeSelect.Root size="xs" width="128px" flexShrink={0}>
          <NativeSelect.Field
            aria-label="Network"
            value={frame.network ?? ''}
            onChange={e => set({ network: e.target.value || null })}
            bg="sheet"
            borderColor="hairline"
            height="28px"
          >
            <option value="">all networks</option>
            {frame.networks.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      )}
      {heeds.result && frame.results.length > 1 && (
        <NativeSelect.Root size="xs" width="128px" flexShrink={0}>
          <NativeSelect.Field
            aria-label="Result"
            value={frame.result}
            onChange={e => set({ result: e.target.value === JUDGED_RESULT ? null : e.target.value })}
            bg="sheet"
            borderColor="hairline"
            height="28px"
          >
            {frame.results.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      )}
      <Flex ml="auto" gap="2" align="center" flexShrink={0}>
        <CountingDialog settings={frame.settings} judged={frame.judged} {...counting} />
        <Box
          as="button"
          {...field}
          cursor="pointer"
          _hover={{ bg: 'mark' }}
          onClick={find}
          whiteSpace="nowrap"
        >
          Find <kbd>Ctrl K</kbd>
        </Box>
        <Box
          as="button"
          {...field}
          px="1.5"
          cursor="pointer"
          _hover={{ bg: 'mark' }}
          aria-label="Light or dark"
          onClick={() => setTheme(resolvedTheme === 'dark' ? 'light' : 'dark')}
        >
          <Box as="span" display={{ base: 'block', _dark: 'none' }}>
            <Moon size={15} />
          </Box>
          <Box as="span" display={{ base: 'none', _dark: 'block' }}>
            <Sun size={15} />
          </Box>
        </Box>
      </Flex>
    </Flex>
  )
}
