import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { Copy } from 'lucide-react'
import type { AssembledLink } from '@/core/links/assemble'
import type { NetworkProfile } from '@/core/links/profile'

/** What goes into which of the network's fields, each to be copied. */
export function Outputs({
  link,
  profile,
  copy,
}: {
  link: AssembledLink
  profile: NetworkProfile
  copy: (text: string, what: string) => void
}) {
  const fields = Object.entries(link.fields)
  return (
    <>
      <Text as="h2" fontWeight="650">
        Paste this at {profile.name}
      </Text>
      {fields.map(([field, text]) => (
        <Output
          key={field}
          label={field.replaceAll('_', ' ')}
          into="into its field "
          text={text}
          copy={copy}
        />
      ))}
      {fields.length > 1 && <Output label="whole address" text={link.address} copy={copy} />}
    </>
  )
}

function Output({
  label,
  into = '',
  text,
  copy,
}: {
  label: string
  into?: string
  text: string
  copy: (text: string, what: string) => void
}) {
  return (
    <Box borderTopWidth="1px" borderColor="hairline" py="1.5">
      <Flex justify="space-between" color="quiet" fontSize="12px">
        <span>
          {into}
          {into ? <b>{label}</b> : label}
        </span>
        <Button
          variant="ghost"
          aria-label={`Copy the ${label}`}
          onClick={() => copy(text, label.charAt(0).toUpperCase() + label.slice(1))}
          display="inline-flex"
          gap="1"
          alignItems="center"
        >
          <Copy size={12} /> copy
        </Button>
      </Flex>
      <Text fontFamily="mono" fontSize="12px" wordBreak="break-all" data-testid={`field ${label}`}>
        {text || '—'}
      </Text>
    </Box>
  )
}
