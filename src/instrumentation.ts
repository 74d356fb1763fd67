/** Runs once when the application starts: takes in the collector's journal from then on, and tells networks. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return
  const { sharedDatabase } = await import('./data/connect')
  const { drainForever } = await import('./server/drain/drain')
  const { dataFolder } = await import('./formats/dataFolder')
  const { relayForever } = await import('./server/relay/send')
  const { publishForever } = await import('./server/routes')
  const held = globalThis as {
    aequantDrain?: Promise<never>
    aequantRelay?: Promise<never>
    aequantRoutes?: Promise<never>
  }
  held.aequantDrain ??= drainForever(sharedDatabase(), dataFolder())
  held.aequantRelay ??= relayForever(sharedDatabase())
  held.aequantRoutes ??= publishForever(sharedDatabase(), dataFolder())
}
