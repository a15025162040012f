/** The service said no, and why; `body` is all of its answer. */
export class Refused extends Error {
  constructor(readonly status: number, message: string, readonly body: unknown) {
    super(message)
  }
}
