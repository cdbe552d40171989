/** Wrong words on the command line; answered with one line and exit status 2. */
export class UsageError extends Error {}
