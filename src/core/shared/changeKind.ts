/** What somebody can change by which figures are others from then on. */
export const changeKinds = ['settings', 'result', 'rule', 'plan', 'network', 'move'] as const
export type ChangeKind = (typeof changeKinds)[number]
