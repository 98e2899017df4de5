<script setup lang="ts">
/**
 * The session has ended while somebody works: they sign in again in place, and everything goes on.
 *
 * A modal element of the browser in a root of its own: it stands above whatever dialog is open, and leaves that as it
 * is.
 */
const session = useSession()
const { password, code, isAskedForCode, busy, fields, told, signIn, forget } = useSignIn()
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
  forget()
  session.answerEnd(signedIn)
}
/** What the person may do can be more or less than before. */
async function goOn(): Promise<void> {
  const person = await signIn(session.person?.email ?? '')
  if (person) {
    session.person = person
    answer(true)
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
          <CompanySignInFields
            v-model:password="password"
            v-model:code="code"
            :is-asked-for-code="isAskedForCode"
            :fields="fields"
            :told="told"
          />
        </div>
        <div class="flex justify-end gap-2 border-t border-line px-5 py-3">
          <UiButton @click="answer(false)">Cancel</UiButton>
          <UiButton primary type="submit" :busy="busy">Go on</UiButton>
        </div>
      </form>
    </dialog>
  </Teleport>
</template>
