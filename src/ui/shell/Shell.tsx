'use client'
import { Box, Flex, Text } from '@chakra-ui/react'
import dynamic from 'next/dynamic'
import { usePathname, useRouter, useSearchParams } from 'next/navigation'
import { type ReactNode, useState } from 'react'
import { useHotkeys } from 'react-hotkeys-hook'
import { EvidencePanel } from '../evidence/EvidencePanel'
import { PanelProvider } from '../evidence/PanelContext'
import { FormatsContext, formatsOf } from '../format'
import { takesDroppedFiles } from '../parts/FileButton'
import { UndoToast } from '../parts/UndoToast'
import type { SettingsActions } from '../settings/SettingsForm'
import type { Frame } from './frame'
import { NetworkNamesContext } from './NetworkNames'
import { Rail } from './Rail'
import { ResultContext } from './ResultWords'
import { ScopeBar } from './ScopeBar'
import { fetchesAhead, places } from './stations'
import { keptQuery } from './useScope'

const Palette = dynamic(() => import('./Palette').then(m => m.Palette), { ssr: false })
const FilesPanel = dynamic(() => import('../intake/FilesPanel').then(m => m.FilesPanel), { ssr: false })
const KeysDialog = dynamic(() => import('./KeysDialog').then(m => m.KeysDialog), { ssr: false })
const CountingPanel = dynamic(() => import('./CountingPanel').then(m => m.CountingPanel), { ssr: false })

/** Rail, scope, the screen and the evidence panel. */
export function Shell({
  frame,
  settingsActions,
  children,
}: {
  frame: Frame
  settingsActions: SettingsActions
  children: ReactNode
}) {
  const [finding, setFinding] = useState(false)
  const [keysShown, setKeysShown] = useState(false)
  const [counting, setCounting] = useState(false)
  const [dropped, setDropped] = useState<readonly File[] | null>(null)
  const router = useRouter()
  const path = usePathname()
  const query = keptQuery(useSearchParams())
  useHotkeys('mod+k', () => setFinding(true), { preventDefault: true, enableOnFormTags: true })
  useHotkeys(['?', 'shift+?'], () => setKeysShown(true), { useKey: true })
  useHotkeys(
    places.map(s => s.key),
    event => {
      const station = places.find(s => s.key === event.key)
      if (!station) return
      fetchesAhead[station.path]?.()
      router.push(station.path + query)
    },
    { preventDefault: true, useKey: true },
  )
  return (
    <FormatsContext value={formatsOf(frame.habits)}>
      <NetworkNamesContext value={frame.networkNames}>
        <ResultContext value={frame}>
          <PanelProvider key={path}>
            <Flex height="100vh" overflow="hidden">
              <Rail attention={frame.attention} />
              <Flex direction="column" flex="1" minWidth="0">
                <ScopeBar
                  frame={frame}
                  counting={{ open: counting, setOpen: setCounting }}
                  find={() => setFinding(true)}
                />
                <Flex flex="1" minHeight="0" position="relative">
                  <Box
                    as="main"
                    flex="1"
                    minWidth="0"
                    overflowY="auto"
                    {...takesDroppedFiles((first, more) => setDropped([first, ...more]))}
                  >
                    {frame.warnings.map(words => (
                      <Text key={words} role="alert" px="5" pt="3" color="alarm" fontSize="13px">
                        {words}
                      </Text>
                    ))}
                    {children}
                  </Box>
                  {dropped ? (
                    <FilesPanel
                      key={dropped.map(file => file.name).join()}
                      files={dropped}
                      networks={frame.networkNames}
                      close={() => setDropped(null)}
                    />
                  ) : counting ? (
                    <CountingPanel frame={frame} actions={settingsActions} close={() => setCounting(false)} />
                  ) : (
                    <EvidencePanel />
                  )}
                </Flex>
              </Flex>
            </Flex>
            <UndoToast />
            {finding && (
              <Palette
                frame={frame}
                close={() => setFinding(false)}
                actions={[
                  {
                    name: 'Change how results are counted',
                    does: 'credit, windows, margin, target',
                    act: () => setCounting(true),
                  },
                  { name: 'Keys', does: 'all that can be done by keyboard', act: () => setKeysShown(true) },
                ]}
              />
            )}
            {keysShown && <KeysDialog close={() => setKeysShown(false)} />}
          </PanelProvider>
        </ResultContext>
      </NetworkNamesContext>
    </FormatsContext>
  )
}
