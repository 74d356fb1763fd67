import { PartNav } from '../shell/PartNav'

const parts = [
  { href: '/signals', name: 'Rules' },
  { href: '/signals/check', name: 'Page check' },
  { href: '/signals/hand-off', name: 'Hand-off' },
] as const

export const SignalsNav = ({ here }: { here: (typeof parts)[number]['href'] }) => (
  <PartNav station="Signals" parts={parts} here={here} />
)
