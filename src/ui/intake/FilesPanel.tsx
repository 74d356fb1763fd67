import { Box, Button, Text } from '@chakra-ui/react'
import { useRouter } from 'next/navigation'
import { useEffect, useState } from 'react'
import { fileKinds } from '@/core/intake/records'
import { type Choices, SelectField } from '../parts/Fields'
import { Note } from '../parts/Page'
import { SidePanel } from '../parts/SidePanel'
import { type Destination, screenOf, wait } from './waitingFiles'
import { whereTo } from './whereTo'

const ANOTHER = 'report '
const keyOf = (place: Destination): string =>
  place.to === 'import'
    ? `import ${place.kind ?? ''}`
    : place.to === 'report'
      ? `report ${place.network ?? ''}`
      : 'shop'
const placeOf = (key: string): Destination | null => {
  const [to, ...rest] = key.split(' ')
  const of = rest.join(' ')
  if (to === 'shop') return { to }
  if (to === 'report') return { to, network: of || null }
  return to === 'import' ? { to, kind: fileKinds.find(kind => kind === of) ?? null } : null
}

/** Files that were dropped somewhere: where each seems to belong, and the way there. */
export function FilesPanel({
  files,
  networks,
  close,
}: {
  files: readonly File[]
  /** those with a name, by ID */
  networks: Readonly<Record<string, string>>
  close: () => void
}) {
  const router = useRouter()
  const [places, setPlaces] = useState<readonly string[] | null>(null)
  useEffect(() => {
    let current = true
    void Promise.all(files.map(whereTo)).then(found => {
      if (current) setPlaces(found.map(place => (place ? keyOf(place) : '')))
    })
    return () => {
      current = false
    }
  }, [files])
  const choices: Choices = [
    ['', 'say what it is'],
    ['shop', 'the shop’s orders, refunds or customers'],
    {
      heading: 'a network’s report',
      choices: [
        ...Object.entries(networks).map(([id, name]) => [`report ${id}`, name] as const),
        [ANOTHER, 'of a network that I say next'],
      ],
    },
    {
      heading: 'a file of records',
      choices: fileKinds.map(kind => [`import ${kind}`, `${kind}.csv`] as const),
    },
  ]
  const go = () => {
    // Rates first: rows in other currencies need them; then orders, before what is said of them.
    const rank = (key: string) =>
      key === 'import rates' ? 0 : key.startsWith('import') ? 1 : key === 'shop' ? 2 : 3
    const waiting = files
      .map((file, i) => ({ file, key: places![i]! }))
      .sort((a, b) => rank(a.key) - rank(b.key))
      .flatMap(({ file, key }) => {
        const place = placeOf(key)
        return place ? [{ file, place }] : []
      })
    wait(waiting, true)
    close()
    router.push(screenOf[waiting[0]!.place.to])
  }
  return (
    <SidePanel title={files.length === 1 ? 'Where does it belong?' : 'Where do they belong?'} close={close}>
      {places === null ? (
        <Text mt="2" role="status">
          Looking at {files.length === 1 ? files[0]!.name : `${files.length} files`} …
        </Text>
      ) : (
        <>
          {files.map((file, i) => (
            <Box key={`${file.name} ${i}`} mt="3">
              <SelectField
                label={file.name}
                value={places[i] ?? ''}
                change={key => setPlaces(places.map((own, at) => (at === i ? key : own)))}
                choices={choices}
                problem={places[i] === '' ? 'its headings could be anything' : undefined}
              />
            </Box>
          ))}
          <Button mt="4" variant="solid" disabled={places.includes('')} onClick={go}>
            Take {files.length === 1 ? 'it' : 'them'} there
          </Button>
          <Note>Nothing counts before you have seen what it changes, but for files of records.</Note>
        </>
      )}
    </SidePanel>
  )
}
