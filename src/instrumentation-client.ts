import { config } from 'zod/v4/core'

// Pages may run no text as a script. Whether they may is found out by trying, which a browser does not always refuse.
config({ jitless: true })
