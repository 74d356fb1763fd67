import { Box, Flex, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { AssembledLink } from '@/core/links/assemble'
import type { LinkChange } from '@/core/links/change'
import type { NetworkProfile } from '@/core/links/profile'
import { reviewAt } from '@/core/links/review'
import { Select } from '../parts/Fields'
import { ReviewWarning } from './ReviewWarning'
import type { StationAd } from './station'

/** Where an ad leads, and whether by way of the tracking domain; taken on Enter or when the field is left. */
export function LeadsField({
  ad,
  profile,
  link,
  apply,
}: {
  ad: StationAd
  profile: NetworkProfile
  link: AssembledLink
  apply: (changes: readonly LinkChange[]) => void
}) {
  const { landingPage, straight } = ad
  const [page, setPage] = useState(landingPage ?? '')
  const lead = (after: { landingPage: string | null; straight: boolean }) => {
    if (after.landingPage === landingPage && after.straight === straight) return
    apply([{ what: 'ad', network: ad.network, ad: ad.id, before: { landingPage, straight }, after }])
  }
  const take = () => lead({ landingPage: page.trim() || null, straight })
  const changed = (page.trim() || null) !== landingPage
  return (
    <Box my="2.5" fontSize="13px">
      <Flex as="form" gap="2" align="center" onSubmit={e => e.preventDefault()}>
        <Text as="label" flexShrink={0} asChild>
          <label htmlFor="landing">Leads to</label>
        </Text>
        <Input
          id="landing"
          flex="1"
          minWidth="0"
          fontFamily="mono"
          fontSize="12px"
          placeholder="https://… the landing page"
          value={page}
          maxLength={4096}
          onChange={e => setPage(e.target.value)}
          onBlur={take}
          onKeyDown={e => e.key === 'Enter' && take()}
          aria-invalid={link.address === ''}
        />
        <Select
          aria-label="Way to the landing page"
          title="By the tracking domain: the click is recorded before the page opens. Straight: the address carries aq_code, and the Aequant tag on the page records the click."
          value={straight ? 'straight' : 'tracked'}
          onChange={e => lead({ landingPage, straight: e.target.value === 'straight' })}
        >
          <option value="tracked">by the tracking domain</option>
          <option value="straight">straight</option>
        </Select>
      </Flex>
      {changed && <ReviewWarning review={reviewAt('ad', [profile])} />}
    </Box>
  )
}
