import { Box, Flex, Link as Styled, Text } from '@chakra-ui/react'
import Link from 'next/link'
import Markdown, { type Components } from 'react-markdown'
import gfm from 'remark-gfm'
import { Sentence } from '../parts/Page'
import { words } from './words'

/** How the guide is set: addresses of other pages and of pictures are those of files beside each other. */
const components: Components = {
  h1: ({ children }) => <Sentence>{children}</Sentence>,
  h2: ({ children }) => (
    <Text as="h2" fontSize="16px" fontWeight="650" mt="5" mb="1">
      {children}
    </Text>
  ),
  p: ({ children }) => (
    <Text mt="2" maxWidth="44rem">
      {children}
    </Text>
  ),
  ul: ({ children }) => (
    <Box as="ul" mt="2" ps="5" maxWidth="44rem" listStyleType="disc">
      {children}
    </Box>
  ),
  ol: ({ children }) => (
    <Box as="ol" mt="2" ps="5" maxWidth="44rem" listStyleType="decimal">
      {children}
    </Box>
  ),
  a: ({ href = '', children }) => (
    <Styled asChild textDecoration="underline" color="inherit">
      <Link href={pageAt(href)}>{children}</Link>
    </Styled>
  ),
  img: ({ src, alt }) => (
    <Box
      asChild
      display="block"
      mt="3"
      width="100%"
      maxWidth="820px"
      borderWidth="1px"
      borderColor="hairline"
    >
      <img
        src={`/guide/pictures/${String(src).split('/').at(-1)}`}
        alt={alt ?? ''}
        width={1280}
        height={800}
      />
    </Box>
  ),
}
const pageAt = (href: string) => (/^\d\d-.*\.md$/.test(href) ? href.replace(/^\d\d-|\.md$/g, '') : href)

/** The guide: its pages at the left, one of them beside. */
export function GuideScreen({
  pages,
  here,
  text,
}: {
  pages: readonly { name: string; title: string }[]
  here: string
  /** Markdown; null for the page of words */
  text: string | null
}) {
  return (
    <Flex height="100%" minHeight="0">
      <Box
        as="nav"
        aria-label="Guide"
        width="210px"
        flexShrink={0}
        p="4"
        fontSize="13px"
        borderRightWidth="1px"
        borderColor="hairline"
        overflowY="auto"
      >
        {pages.map(({ name, title }, i) => (
          <Box
            key={name}
            py="1"
            fontWeight={name === here ? 650 : 400}
            color={name === here ? 'ink' : 'quiet'}
          >
            <Link href={`/guide/${name}`} aria-current={name === here ? 'page' : undefined}>
              {i + 1}. {title}
            </Link>
          </Box>
        ))}
      </Box>
      <Box
        flex="1"
        minWidth="0"
        overflowY="auto"
        px="6"
        pt="4"
        pb="10"
        tabIndex={0}
        role="region"
        aria-label="Page"
      >
        {text === null ? (
          <Words />
        ) : (
          <Markdown remarkPlugins={[gfm]} components={components}>
            {text}
          </Markdown>
        )}
      </Box>
    </Flex>
  )
}

const Words = () => (
  <>
    <Sentence>
      What each word means here. Every heading of a table says its own when it is pointed at.
    </Sentence>
    <Box as="dl" mt="3" maxWidth="48rem" fontSize="13px">
      {Object.entries(words).map(([word, meaning]) => (
        <Flex
          key={word}
          id={word.replaceAll(' ', '-')}
          gap="4"
          py="1.5"
          borderTopWidth="1px"
          borderColor="hairline"
        >
          <Text as="dt" width="11rem" flexShrink={0} fontWeight="650">
            {word.replaceAll('_', ' ')}
          </Text>
          <Text as="dd">{meaning}</Text>
        </Flex>
      ))}
    </Box>
  </>
)
