/** A statement that the database refused, in its own words; neither the statement's parameters nor rows are told. */
export class QueryFailed extends Error {
  constructor(
    message: string,
    /** SQLSTATE (PostgreSQL, appendix A) */
    readonly code: string,
  ) {
    super(message)
  }
}

/** The database does not answer, or went away while it was asked. Nothing is wrong with what it was asked. */
export class DatabaseAway extends Error {}

/** Nothing is taken in for want of room; what is there can be read. */
export class DiskFull extends DatabaseAway {
  constructor() {
    super(
      'The disk is full: this was not taken in. Free some room and try again; all that is there can be read.',
    )
  }
}

/** A database that can be read and takes no changes: a standby, or one that was set so. */
export class ReadOnly extends DatabaseAway {
  constructor() {
    super('The database is read-only at the moment: nothing was changed. Try again once it takes changes.')
  }
}

/**
 * What may be told of a failed query. The driver's errors name every parameter, secrets among them, and
 * are printed whole by whoever logs them; so they end here.
 */
export function plainError(error: unknown): Error {
  if (error instanceof QueryFailed || error instanceof DatabaseAway) return error
  const message = error instanceof Error ? error.message : String(error)
  // What the server said has a severity; a code alone may be the system's, of a broken pipe for one.
  if (!(error instanceof Error && 'severity' in error && 'code' in error)) return new DatabaseAway(message)
  const code = String(error.code)
  if (isOfDisk(code)) return new DiskFull()
  if (code === READ_ONLY) return new ReadOnly()
  return isAway.test(code) ? new DatabaseAway(message) : new QueryFailed(message, code)
}
/** It cannot be asked now: connection exceptions, too many connections, shut down or starting up. */
const isAway = /^(?:08|53300|57P0)/

const [DISK_FULL, READ_ONLY] = ['53100', '25006']
/** The embedded database is made to refuse what is written before its disk is full (`guardRoom`). */
const isOfDisk = (code: string): boolean =>
  code === DISK_FULL || (code === READ_ONLY && !process.env.DATABASE_URL)

/**
 * Classes of SQLSTATE that say nothing of a record: connection, transaction state, rollback, resources, the
 * schema, an object's state, an operator, the system.
 */
const ofTheMoment = /^(?:08|25|40|42|53|55|57|58)/

/** Whether a failure lies in what was to be stored, so that it would come again with the same records. */
export const isOfRecords = (error: unknown): boolean =>
  error instanceof DatabaseAway ? false : !(error instanceof QueryFailed && ofTheMoment.test(error.code))

const UNIQUE_VIOLATION = '23505'
export const isThereAlready = (error: unknown): boolean =>
  error instanceof QueryFailed && error.code === UNIQUE_VIOLATION
