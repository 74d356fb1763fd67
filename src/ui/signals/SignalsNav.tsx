import { PartNav } from '../shell/PartNav'

const parts = [
  { href: '/signals', name: 'Rules' },
  { href: '/signals/networks', name: 'Networks' },
  { href: '/signals/hand-off', name: 'Hand-off' },
  { href: '/signals/check', name: 'Page check' },
  { href: '/signals/live-test', name: 'Live test' },
] as const

export const SignalsNav = ({ here }: { here: (typeof parts)[number]['href'] }) => (
  <PartNav station="Signals" parts={parts} here={here} />
)
