'use client'
import { Box, Button, Flex, Kbd, Text } from '@chakra-ui/react'
import { BookOpen, Moon, Sun } from 'lucide-react'
import Link from 'next/link'
import { usePathname } from 'next/navigation'
import { useTheme } from 'next-themes'
import { JUDGED_RESULT } from '@/core/intake/judgedResult'
import { SelectField } from '../parts/Fields'
import { PeriodPicker } from '../parts/PeriodPicker'
import { creditWords } from '../results/resultWords'
import type { Frame } from './frame'
import { guideAt, heededAt } from './stations'
import { useScope } from './useScope'

/** Period and scope, once for all screens that heed them; they live in the address. */
export function ScopeBar({
  frame,
  counting,
  find,
}: {
  frame: Frame
  /** whether the counting rules stand beside the screen */
  counting: { open: boolean; setOpen: (open: boolean) => void }
  find: () => void
}) {
  const { set, changing } = useScope()
  const { resolvedTheme, setTheme } = useTheme()
  const { period, span } = frame
  const path = usePathname()
  const heeds = heededAt(path)
  return (
    <Flex
      as="header"
      align="center"
      gap="3"
      px="5"
      minHeight="44px"
      py="1"
      wrap="wrap"
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
          <PeriodPicker
            days={period}
            span={span}
            change={days => set({ ...days })}
            {...(heeds.before && {
              compared: frame.before,
              compare: (wanted: boolean) => set({ beside: wanted ? 'before' : null }),
            })}
          />
        </Flex>
      )}
      {heeds.network && (
        <SelectField
          unseen
          label="Network"
          width="128px"
          value={frame.network ?? ''}
          change={network => set({ network })}
          choices={[['', 'all networks'], ...frame.networks.map(n => [n.id, n.name] as const)]}
        />
      )}
      {heeds.result && frame.results.length > 1 && (
        <SelectField
          unseen
          label="Result"
          width="164px"
          value={frame.result}
          change={result => set({ result: result === JUDGED_RESULT ? null : result })}
          choices={frame.results.map(r => [r.id, r.name])}
        />
      )}
      <Flex ml="auto" gap="2" align="center" flexShrink={0}>
        <Button
          variant="plain"
          fontSize="12px"
          color="quiet"
          textDecorationStyle="dotted"
          aria-expanded={counting.open}
          onClick={() => counting.setOpen(!counting.open)}
        >
          {creditWords[frame.judged.credit]}, {frame.judged.click_window_days} days, margin{' '}
          {Math.round(frame.judged.margin * 100)} %
        </Button>
        <Button onClick={find}>
          Find <Kbd>Ctrl K</Kbd>
        </Button>
        <Button asChild px="1.5">
          <Link
            href={guideAt(path)}
            prefetch={false}
            aria-label="Guide"
            title="What this screen is for, and how"
          >
            <BookOpen size={15} />
          </Link>
        </Button>
        <Button
          px="1.5"
          aria-label="Light or dark"
          onClick={() => setTheme(resolvedTheme === 'dark' ? 'light' : 'dark')}
        >
          <Box as="span" display={{ base: 'block', _dark: 'none' }}>
            <Moon size={15} />
          </Box>
          <Box as="span" display={{ base: 'none', _dark: 'block' }}>
            <Sun size={15} />
          </Box>
        </Button>
      </Flex>
    </Flex>
  )
}
