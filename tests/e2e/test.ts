import { test as base } from '@playwright/test'

export { type Browser, chromium, expect, type Locator, type Page } from '@playwright/test'

const offset = Number(process.env.CLOCK_OFFSET ?? 0)

/** Sets the page's clock so many milliseconds later; timers run on as they do. */
function shiftClock(by: number) {
  const Real = Date
  const Shifted = function (this: unknown, ...given: unknown[]) {
    if (!new.target) return new Real(Real.now() + by).toString()
    return given.length === 0 ? new Real(Real.now() + by) : Reflect.construct(Real, given)
  } as unknown as DateConstructor
  Object.setPrototypeOf(Shifted, Real)
  Object.defineProperty(Shifted, 'prototype', { value: Real.prototype })
  Shifted.now = () => Real.now() + by
  globalThis.Date = Shifted
}

/** The browser's pages have the clock of the run: another day than today's after `npm run at-date`. */
export const test = base.extend({
  context: async ({ context }, use) => {
    if (offset !== 0) await context.addInitScript(shiftClock, offset)
    await use(context)
  },
})
