import { checkRecording, checkWrittenPage, type PageFinding, type PageSpec } from '@/core/signals/pageCheck'
import { readRecording } from '@/formats/har'
import { readPage } from '@/formats/html'

/**
 * Checks the tags of a page or of a recorded visit.
 *
 * @throws InvalidJson where a recording is none
 */
export const checkPageFile = (
  spec: PageSpec,
  kind: 'html' | 'har',
  content: string,
  file: string,
): PageFinding[] =>
  kind === 'html'
    ? checkWrittenPage(spec, readPage(content))
    : checkRecording(spec, readRecording(content, file))
