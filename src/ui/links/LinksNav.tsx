import { PartNav } from '../shell/PartNav'

const parts = [
  { href: '/links', name: 'Tag plan' },
  { href: '/links/arrivals', name: 'Arrivals' },
  { href: '/links/library', name: 'Library' },
  { href: '/links/sources', name: 'Sources' },
  { href: '/links/names', name: 'Names' },
  { href: '/links/profiles', name: 'Profiles' },
] as const

export const LinksNav = ({ here }: { here: (typeof parts)[number]['href'] }) => (
  <PartNav station="Links" parts={parts} here={here} />
)
