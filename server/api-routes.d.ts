declare module '#api-routes' {
  /** Every route of the server: `/api/stock/lots/:id`, and its method in small letters. */
  export const API_ROUTES: readonly { readonly route: string; readonly method: string }[]
}
