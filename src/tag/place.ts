// Markup of others, placed into the page as its policies allow.

/** Its code did not run: the page forbids it, or it has a slip. */
export class NotRun extends Error {}

const LONGEST_RUN_MS = 5000
/** A page that lets scripts run by their nonce gave ours one, and so lets pass what it places. */
const { nonce } = document.currentScript as HTMLScriptElement

interface Policy {
  createHTML(text: string): string
  createScript(text: string): string
  createScriptURL(text: string): string
}
const asIs = (text: string) => text
let policy: Policy | undefined
/** Our own policy, where the page demands Trusted Types; a page that forbids it forbids what is placed. */
function ownPolicy(): Policy {
  const plain = { createHTML: asIs, createScript: asIs, createScriptURL: asIs }
  const { trustedTypes } = window as {
    trustedTypes?: { createPolicy(name: string, rules: Policy): Policy }
  }
  try {
    policy ??= trustedTypes?.createPolicy('aequant', plain) ?? plain
  } catch {
    policy = plain
  }
  return policy
}

/** A script of an address, which may run wherever ours may. */
export function makeScript(address?: string): HTMLScriptElement {
  const script = document.createElement('script')
  if (nonce) script.nonce = nonce
  if (address) script.src = ownPolicy().createScriptURL(address)
  script.setAttribute('data-aq-placed', '')
  return script
}

const runs = new Map<number, () => void>()
let number = 0
/** Runs code that stands in the page. Fails where it did not come to its end. */
function run(script: HTMLScriptElement, code: string): Promise<void> {
  if (script.type && !/^(module|(text|application)\/(java|ecma)script)$/i.test(script.type)) {
    script.textContent = code
    document.head.append(script)
    return Promise.resolve()
  }
  Object.assign(window, { aequantRan: (which: number) => runs.get(which)?.() })
  const own = ++number
  return new Promise((done, failed) => {
    let ran = false
    runs.set(own, () => {
      ran = true
      done()
    })
    const give = () => ran || failed(new NotRun())
    script.textContent = ownPolicy().createScript(`${code}\n;self.aequantRan(${own})`)
    document.head.append(script)
    if (script.type === 'module') setTimeout(give, LONGEST_RUN_MS)
    else give()
  })
}

/** Fetches a script and runs it. Fails where it cannot be fetched. */
const load = (script: HTMLScriptElement): Promise<unknown> =>
  new Promise((done, failed) => {
    script.onload = done
    script.onerror = failed
    document.head.append(script)
  })

/** Places what is no script. Fails where the page forbids to fetch it: any answer will do, or none. */
function put(node: Element): Promise<void> {
  node.setAttribute('data-aq-placed', '')
  const { src } = node as HTMLImageElement
  if (!src) {
    document.body.append(node)
    return Promise.resolve()
  }
  return new Promise((done, failed) => {
    const refused = ({ disposition, blockedURI }: SecurityPolicyViolationEvent) => {
      if (disposition === 'enforce' && blockedURI === src.split('#')[0]) failed(new NotRun())
    }
    document.addEventListener('securitypolicyviolation', refused)
    const answered = () =>
      setTimeout(() => {
        document.removeEventListener('securitypolicyviolation', refused)
        done()
      })
    for (const kind of ['load', 'error']) node.addEventListener(kind, answered)
    document.body.append(node)
  })
}

/** A script that was parsed into a template does not run: its copy does. */
function copy(node: Element): HTMLScriptElement {
  const script = makeScript()
  for (const { name, value } of node.attributes)
    if (name === 'src') script.src = ownPolicy().createScriptURL(value)
    else if (name !== 'nonce') script.setAttribute(name, value)
  return script
}

/**
 * Puts markup, or bare script, into the page, its scripts run one after the other. Fails where one cannot be
 * fetched, and with `NotRun` where one did not run.
 */
export async function place(markup: string): Promise<void> {
  if (!markup.includes('<')) return run(makeScript(), markup)
  const made = document.createElement('template')
  try {
    made.innerHTML = ownPolicy().createHTML(markup)
  } catch {
    throw new NotRun()
  }
  for (const node of [...made.content.children])
    if (node.tagName !== 'SCRIPT') await put(node)
    else if ((node as HTMLScriptElement).src) await load(copy(node))
    else await run(copy(node), node.textContent)
}
