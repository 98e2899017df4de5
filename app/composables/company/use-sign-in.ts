import type { Person } from '~~/shared/company/people'

/** Signing in, at the door or in place: by password, and by the code of a second factor where it is asked for. */
export function useSignIn() {
  const password = ref('')
  const code = ref('')
  /** The password was right, and the second factor is asked for. */
  const isAskedForCode = ref(false)
  const { busy, detail, code: problem, fields, run, clear } = useAct()

  function forget(): void {
    password.value = ''
    code.value = ''
    isAskedForCode.value = false
    clear()
  }
  /** Answers who is signed in; null where it was refused, or a code is still wanted. */
  async function signIn(email: string): Promise<Person | null> {
    const body = { email, password: password.value, code: code.value }
    const person = await run(() => $fetch<Person>('/api/company/sign-in', { method: 'POST', body }))
    isAskedForCode.value ||= person === null && problem.value === 'second-factor'
    return person
  }
  /** What stands beside no field, where it is more than that a code is asked for. */
  const told = computed(() =>
    Object.keys(fields.value).length === 0 && problem.value !== 'second-factor' ? detail.value : '',
  )
  return { password, code, isAskedForCode, busy, fields, told, signIn, forget }
}
