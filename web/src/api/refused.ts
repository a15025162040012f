/** The service said no, and why; `body` is all of its answer. */
export class Refused extends Error {
  constructor(readonly status: number, message: string, readonly body: unknown) {
    super(message)
  }
}

/** The service does not answer at all. */
export class Away extends Error {
  constructor() {
    super('The service does not answer. Whether this was done is not known; look again when the service is back.')
    this.name = 'Away'
  }
}

/** Whether a failure ends by itself: nobody answers, the database is away, or the disk is full. */
export const passes = (error: unknown) => error instanceof Away || (error instanceof Refused && [503, 507].includes(error.status))
