// The click ID on links and forms that lead away: to a partner, or to another host of the same shop.

/**
 * Adds a parameter to every link and form that leads to one of some hosts, or is marked `data-aq-out`, at
 * the moment in which it is used.
 *
 * @param parameter its name, and its value now; undefined where there is none to carry
 */
export function carryAlong(
  parameter: string,
  value: () => string | undefined | false,
  hosts: () => readonly string[] | undefined,
): void {
  const leadsAway = (address: string) => {
    const host = URL.canParse(address) ? new URL(address).hostname : ''
    return host !== location.hostname && hosts()?.includes(host)
  }
  const onLink = (event: Event) => {
    const link = (event.target as Element | null)?.closest?.<HTMLAnchorElement>('a[href]')
    const given = value()
    if (!link || !given || !(link.dataset.aqOut !== undefined || leadsAway(link.href))) return
    const to = new URL(link.href)
    to.searchParams.set(parameter, given)
    link.href = to.href
  }
  // A link may be opened by the other buttons, and copied, too.
  for (const kind of ['click', 'auxclick', 'contextmenu']) addEventListener(kind, onLink, true)
  addEventListener(
    'submit',
    ({ target, submitter }: SubmitEvent) => {
      const form = target as HTMLFormElement
      const given = value()
      // A field may be called "action" and hide the form's own.
      const action = submitter?.getAttribute('formaction') ?? form.getAttribute?.('action') ?? location.href
      const to = URL.canParse(action, document.baseURI) && new URL(action, document.baseURI)
      if (!given || !to || !leadsAway(to.href)) return
      // The query of a form that is sent by GET is made of its fields alone.
      const method = submitter?.getAttribute('formmethod') ?? form.getAttribute('method') ?? 'get'
      if (method.toLowerCase() === 'get') {
        const field =
          form.querySelector<HTMLInputElement>(`input[name="${parameter}"]`) ??
          form.appendChild(document.createElement('input'))
        Object.assign(field, { type: 'hidden', name: parameter, value: given })
        return
      }
      to.searchParams.set(parameter, given)
      const where = submitter?.hasAttribute('formaction') ? submitter : form
      where.setAttribute(where === form ? 'action' : 'formaction', to.href)
    },
    true,
  )
}
