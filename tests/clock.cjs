// Loaded before everything else (`npm run at-date`): the clock of this process stands so many milliseconds later.
const offset = Number(process.env.CLOCK_OFFSET ?? 0)
const Real = Date
function Shifted(...given) {
  if (!new.target) return new Real(Real.now() + offset).toString()
  const written = given.length === 0 ? [Real.now() + offset] : given
  return Reflect.construct(Real, written, new.target === Shifted ? Real : new.target)
}
Shifted.prototype = Real.prototype
Object.defineProperty(Shifted.prototype, 'constructor', {
  value: Shifted,
  writable: true,
  configurable: true,
})
Object.defineProperty(Shifted, 'name', { value: 'Date' })
Object.defineProperty(Shifted, 'length', { value: 7 })
Shifted.UTC = Real.UTC
Shifted.parse = Real.parse
Shifted.now = () => Real.now() + offset
if (offset !== 0) globalThis.Date = Shifted
