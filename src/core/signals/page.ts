/** A script or tracking image of a page, as its HTML has it. */
export interface PageCode {
  /** from 1 */
  line: number
  /** characters from the beginning of the page: what comes first runs first */
  offset: number
  in: 'head' | 'body'
  /** where it is fetched from; null for code that stands in the page */
  src: string | null
  /** the code, or the markup of an image */
  text: string
  /** fetched, but run only after the page was read */
  deferred: boolean
}

/** A page as its HTML has it. */
export interface WrittenPage {
  code: PageCode[]
}

/** A visit as a browser recorded it (HTTP Archive 1.2). */
export interface Recording {
  pages: { id: string; address: string /** epoch ms */; at: number }[]
  requests: RecordedRequest[]
}
export interface RecordedRequest {
  /** its place in the recording, from 0 */
  index: number
  /** the page that asked for it; null where the recording does not say */
  page: string | null
  address: string
  /** epoch ms */
  at: number
  /** parameters of its address and its form or JSON body */
  parameters: Map<string, string>
  /** not answered, or answered by an error */
  failed: boolean
  document: boolean
}
