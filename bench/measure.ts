export interface Measure {
  name: string
  value: number
  unit: string
  against: string
  /** this project over the reference */
  ratio: number
}
