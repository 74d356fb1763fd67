/** What was asked for cannot be done as given: the command ends with exit code 2. */
export class BadInput extends Error {}
