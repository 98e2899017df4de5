/**
 * RFC 9457 problem details; `fields` holds a sentence for each input that was wrong, by its path; `effects` what a yes
 * would change elsewhere.
 */
export interface Problem {
  type: string
  title: string
  status: number
  detail: string
  fields?: Record<string, string>
  effects?: readonly string[]
}
