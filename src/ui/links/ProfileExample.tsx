import { Box, Text } from '@chakra-ui/react'
import { sampleValues } from '@/core/links/adLink'
import { assembleLink } from '@/core/links/assemble'
import type { NetworkProfile } from '@/core/links/profile'
import { findingWords } from './findingWords'
import { allTokens } from './linkWords'

const mono = { fontFamily: 'var(--chakra-fonts-mono)', fontSize: 12 }

const named = {
  campaign: { id: 'c100', name: 'Autumn kits' },
  ad_set: { id: 's101', name: 'Weaving interests' },
  ad: { id: 'a102', name: 'Oak & wool' },
}

/** An ad's link as this profile makes it, so that every edit shows what it does. */
export function ProfileExample({
  profile,
  others,
}: {
  profile: NetworkProfile | null
  others: readonly NetworkProfile[]
}) {
  const link =
    profile &&
    assembleLink({
      profile,
      destination: 'https://tarnbrook.example/kits?lang=pt#looms',
      plan: {
        account: {
          utm_source: profile.id || 'network',
          ...Object.fromEntries(
            allTokens(profile)
              .filter(token => token in profile.dialect.tokens)
              .map(token => [token.replaceAll('.', '_'), `{${token}}`]),
          ),
        },
      },
      sample: { ...sampleValues, ...named },
      otherProfiles: others,
    })
  return (
    <Box
      as="section"
      aria-label="Example"
      width="330px"
      flexShrink={0}
      borderLeftWidth="1px"
      borderColor="hairline"
      pl="4"
    >
      <Text as="h2" fontWeight="650">
        An ad then has
      </Text>
      {link ? (
        <>
          {Object.entries(link.fields).map(([field, text]) => (
            <Box key={field} mt="2">
              <Text color="quiet">{field.replaceAll('_', ' ')}</Text>
              <Text style={mono} wordBreak="break-all" data-testid="example field">
                {text || '—'}
              </Text>
            </Box>
          ))}
          <Text color="quiet" mt="3">
            and a click carries
          </Text>
          <Text style={mono} wordBreak="break-all" data-testid="example preview">
            {link.preview}
          </Text>
          {link.findings
            .filter(f => f.severity === 'error')
            .map((f, i) => (
              <Text key={`${f.code}${i}`} color="alarm" mt="2">
                {findingWords(f, profile)}
              </Text>
            ))}
        </>
      ) : (
        <Text color="quiet" mt="2">
          It shows here as soon as the profile has a name, an ID and no mistake.
        </Text>
      )}
    </Box>
  )
}
