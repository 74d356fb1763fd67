import { Box, Button, Text } from '@chakra-ui/react'
import type { Met } from '@/core/links/rebase'
import { levelName } from './linkWords'
import type { LinkStation } from './station'
import { Template } from './TemplateField'

const MOST_SHOWN = 5

/** What somebody else had changed before one's own change was stored, and which of both stands. */
export function MetOthers({
  met,
  station,
  read,
}: {
  met: readonly Met[]
  station: LinkStation
  read: () => void
}) {
  if (met.length === 0) return null
  const nameOf = (one: Met) =>
    one.what === 'ad'
      ? (station.ads.find(ad => ad.network === one.network && ad.id === one.ad)?.name ?? one.ad)
      : one.level === 'ad'
        ? (station.ads.find(ad => ad.network === one.network && ad.id === one.scope)?.name ?? one.scope)
        : (station.names[`${one.network}/${one.level}/${one.scope}`] ?? '')
  return (
    <Box role="alert" borderLeftWidth="3px" borderColor="network" pl="3" py="1" my="2" fontSize="13px">
      <Text fontWeight="650">Meanwhile somebody else changed the same, in another window:</Text>
      {met.slice(0, MOST_SHOWN).map((one, i) => {
        const profile = station.profiles.find(p => p.id === one.network)
        return (
          <Text key={i} overflowWrap="anywhere">
            {one.what === 'ad' ? (
              <>
                {nameOf(one)} leads to {one.theirs.landingPage ?? 'nowhere'}
              </>
            ) : (
              <>
                {one.key} at {profile ? levelName(profile, one.level) : one.level} level {nameOf(one)}:{' '}
                {one.theirs === null
                  ? 'taken away'
                  : profile && <Template template={one.theirs} profile={profile} />}
              </>
            )}
            {one.replaced ? '; yours replaced it, and undo brings it back.' : '; it stands, beside yours.'}
          </Text>
        )
      })}
      {met.length > MOST_SHOWN && <Text>and {met.length - MOST_SHOWN} more.</Text>}
      <Button size="xs" variant="outline" borderRadius="0" mt="1" onClick={read}>
        Read
      </Button>
    </Box>
  )
}
