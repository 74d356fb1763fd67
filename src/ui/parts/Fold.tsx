import { Box, type BoxProps } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** What is there for whoever asks, under its title. */
export const Fold = ({
  title,
  hint,
  children,
  ...box
}: Omit<BoxProps, 'title'> & { title: ReactNode; hint?: string | undefined }) => (
  <Box as="details" mt="2" fontSize="13px" {...box}>
    <summary title={hint}>{title}</summary>
    {children}
  </Box>
)
