export const odds = (share: number): number => share / (1 - share)
export const shareOfOdds = (value: number): number => value / (1 + value)
export const logit = (share: number): number => Math.log(odds(share))
export const fromLogit = (value: number): number => 1 / (1 + Math.exp(-value))
