/** Thrown by work that need not be tried again; its message is for people. */
export class GivenUp extends Error {
  override readonly name = 'GivenUp'
}
