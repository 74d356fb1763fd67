import { Link as Styled, Text } from '@chakra-ui/react'
import Link from 'next/link'
import type { ReactNode } from 'react'

/** A link among words or in a cell. */
export const WordLink = ({
  href,
  title,
  mono,
  children,
}: {
  href: string
  title?: string
  mono?: boolean
  children: ReactNode
}) => (
  <Styled
    asChild
    textDecoration="underline"
    color="inherit"
    {...(mono ? { fontFamily: 'mono', fontSize: '12px' } : {})}
  >
    <Link href={href} {...(title ? { title } : {})}>
      {children}
    </Link>
  </Styled>
)

/** An ID, an address or code among words. */
export const Mono = ({ title, children }: { title?: string; children: ReactNode }) => (
  <Text as="code" fontFamily="mono" fontSize="12px" overflowWrap="anywhere" {...(title ? { title } : {})}>
    {children}
  </Text>
)
