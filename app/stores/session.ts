import type { Company } from '~~/shared/company/answers'
import { defineStore } from 'pinia'
import { isAllowed, type Right } from '~~/shared/company/rights'
import type { Person } from '~~/shared/company/people'
export interface SignInHint {
  readonly email: string
  readonly password: string
  readonly role: string
  readonly name: string
}

/** Who is here, for which company, on which day. */
export const useSession = defineStore('session', () => {
  const company = ref<Company | null>(null)
  const person = ref<Person | null>(null)
  const today = ref('1970-01-01')
  const signIns = ref<SignInHint[]>([])
  const loaded = ref(false)

  async function load(): Promise<void> {
    const answer = await $fetch('/api/company/session')
    company.value = answer.company
    person.value = answer.person
    today.value = answer.today
    signIns.value = answer.signIns
    loaded.value = true
  }
  /** Whether the session has ended and waits for its person to sign in again; all who wait are answered together. */
  const hasEnded = ref(false)
  let waiting: ((signedIn: boolean) => void)[] = []
  function signInAgain(): Promise<boolean> {
    hasEnded.value = true
    return new Promise((resolve) => waiting.push(resolve))
  }
  function answerEnd(signedIn: boolean): void {
    hasEnded.value = false
    const asked = waiting
    waiting = []
    asked.forEach((answer) => answer(signedIn))
  }
  const allows = (right: Right): boolean => person.value !== null && isAllowed(person.value, right)

  return { company, person, today, signIns, loaded, load, allows, hasEnded, signInAgain, answerEnd }
})
