import { PartNav } from '../shell/PartNav'

const parts = [
  { href: '/intake', name: 'Arrivals' },
  { href: '/intake/set-aside', name: 'Set aside' },
  { href: '/intake/routes', name: 'Routes' },
  { href: '/intake/partners', name: 'Partners' },
  { href: '/intake/reports', name: 'Reports' },
  { href: '/intake/import', name: 'Import files' },
] as const

export const IntakeNav = ({ here }: { here: (typeof parts)[number]['href'] }) => (
  <PartNav station="Intake" parts={parts} here={here} />
)
