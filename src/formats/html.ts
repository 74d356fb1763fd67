import { type DefaultTreeAdapterTypes, parse } from 'parse5'
import type { PageCode, WrittenPage } from '@/core/signals/page'

type Node = DefaultTreeAdapterTypes.ChildNode
type Element = DefaultTreeAdapterTypes.Element

const attribute = (element: Element, name: string) => element.attrs.find(a => a.name === name)?.value ?? null
const isElement = (node: Node): node is Element => 'tagName' in node

/** Reads the scripts and images of a page by the HTML standard, each with its line; what is in comments is not there. */
export function readPage(html: string): WrittenPage {
  const document = parse(html, { sourceCodeLocationInfo: true })
  const code: PageCode[] = []
  const look = (nodes: readonly Node[], place: PageCode['in']): void => {
    for (const node of nodes) {
      if (!isElement(node)) continue
      if (node.tagName === 'script') code.push(scriptOf(node, html, place))
      else if (node.tagName === 'img') code.push(...imageOf(node, html, place))
      look(
        'content' in node ? (node as DefaultTreeAdapterTypes.Template).content.childNodes : node.childNodes,
        node.tagName === 'body' ? 'body' : place,
      )
    }
  }
  look(document.childNodes, 'head')
  return { code }
}

/** The addresses that a page links to, as they are written, in its order. */
export function linksOf(html: string): string[] {
  const look = (nodes: readonly Node[]): string[] =>
    nodes.flatMap(node => {
      if (!isElement(node)) return []
      const to = node.tagName === 'a' ? attribute(node, 'href') : null
      return [...(to === null ? [] : [to]), ...look(node.childNodes)]
    })
  return look(parse(html).childNodes)
}

/** Whether a page has a place that a fragment (without its `#`, decoded) can lead to. */
export function hasAnchor(html: string, fragment: string): boolean {
  const look = (nodes: readonly Node[]): boolean =>
    nodes.some(
      node =>
        isElement(node) &&
        (attribute(node, 'id') === fragment ||
          (node.tagName === 'a' && attribute(node, 'name') === fragment) ||
          look(node.childNodes)),
    )
  return look(parse(html).childNodes)
}

function scriptOf(node: Element, html: string, place: PageCode['in']): PageCode {
  const src = attribute(node, 'src')
  const text = node.childNodes[0]
  const inner = text?.nodeName === '#text' ? (text as DefaultTreeAdapterTypes.TextNode) : null
  const start = node.sourceCodeLocation?.startTag
  // A line break that begins a script belongs to it.
  const location = (src === null && inner?.sourceCodeLocation) || node.sourceCodeLocation
  return {
    line: location?.startLine ?? 1,
    offset: location?.startOffset ?? 0,
    in: place,
    src,
    // The markup of a script that is fetched may name the account.
    text: src === null ? (inner?.value ?? '') : html.slice(start?.startOffset ?? 0, start?.endOffset ?? 0),
    deferred: src !== null && attribute(node, 'defer') !== null,
  }
}

/** An image of one point is code as well: its address tells the network. */
function imageOf(node: Element, html: string, place: PageCode['in']): PageCode[] {
  const at = node.sourceCodeLocation
  if (!at) return []
  const { startLine, startOffset, endOffset } = at
  return [
    {
      line: startLine,
      offset: startOffset,
      in: place,
      src: attribute(node, 'src'),
      text: html.slice(startOffset, endOffset),
      deferred: false,
    },
  ]
}
