import { Link as Styled } from '@chakra-ui/react'
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
