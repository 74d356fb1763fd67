/** What was asked for cannot be done as given: the command ends with exit code 2. */
export class BadInput extends Error {}

/** It was asked for rightly and could not be done, for a reason that has been said: exit code 1. */
export class NotDone extends Error {}
