import { PartNav } from '../shell/PartNav'

const parts = [
  { href: '/results', name: 'What counts' },
  { href: '/results/journey', name: 'Journey' },
] as const

export const ResultsNav = ({ here }: { here: (typeof parts)[number]['href'] }) => (
  <PartNav station="Results" parts={parts} here={here} />
)
