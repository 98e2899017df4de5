declare module '#auth-utils' {
  interface User {
    id: number
  }
  interface SecureSessionData {
    /** What the session is known by in the database. */
    token: string
  }
}

export {}
