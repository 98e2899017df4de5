<script setup lang="ts">
import type { Person } from '~~/shared/company/people'

/**
 * The session has ended while somebody works: they sign in again in place, and everything goes on.
 *
 * A modal element of the browser in a root of its own: it stands above whatever dialog is open, and leaves that as it
 * is.
 */
const session = useSession()
const password = ref('')
const code = ref('')
const isAskedForCode = ref(false)
const { busy, detail, code: problem, fields, run, clear } = useAct()
const door = useTemplateRef<HTMLDialogElement>('door')

watch(
  () => session.hasEnded,
  (hasEnded) => {
    if (hasEnded) {
      door.value?.showModal()
    } else {
      door.value?.close()
    }
  },
)
function answer(signedIn: boolean): void {
  password.value = ''
  code.value = ''
  isAskedForCode.value = false
  clear()
  session.answerEnd(signedIn)
}
async function goOn(): Promise<void> {
  const body = { email: session.person?.email ?? '', password: password.value, code: code.value }
  if (await run(() => $fetch<Person>('/api/company/sign-in', { method: 'POST', body }))) {
    answer(true)
  } else {
    isAskedForCode.value ||= problem.value === 'second-factor'
  }
}
</script>

<template>
  <Teleport to="body">
    <dialog
      ref="door"
      aria-labelledby="session-ended"
      class="mx-auto mt-14 w-full max-w-xl rounded-md border border-line bg-sheet text-ink shadow-xl backdrop:bg-ink/30"
      @cancel.prevent="answer(false)"
      @keydown.escape.stop.prevent="answer(false)"
    >
      <form @submit.prevent="goOn">
        <h2 id="session-ended" class="border-b border-line px-5 py-3 text-base font-semibold">
          Your session has ended
        </h2>
        <div class="grid gap-3 px-5 py-4">
          <p>Sign in again as {{ session.person?.name }}. What you typed is still here, and goes on.</p>
          <input type="text" autocomplete="username" :value="session.person?.email" hidden />
          <UiTextField
            v-model="password"
            label="Password"
            type="password"
            autocomplete="current-password"
            :error="fields.password"
          />
          <UiTextField
            v-if="isAskedForCode"
            v-model="code"
            label="Code"
            hint="The six digits that your app shows now, or a recovery code."
            autocomplete="one-time-code"
            :error="fields.code"
          />
          <UiProblem v-if="Object.keys(fields).length === 0 && problem !== 'second-factor'" :text="detail" />
        </div>
        <div class="flex justify-end gap-2 border-t border-line px-5 py-3">
          <UiButton @click="answer(false)">Cancel</UiButton>
          <UiButton primary type="submit" :busy="busy">Go on</UiButton>
        </div>
      </form>
    </dialog>
  </Teleport>
</template>
