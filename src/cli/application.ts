/** The Next.js application as a child of the launcher: it ends when its parent does, however that ended. */
export {}

process.umask(0o077)
process.on('disconnect', () => process.exit(0))
await import('next/dist/bin/next')
