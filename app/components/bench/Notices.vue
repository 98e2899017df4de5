<script setup lang="ts">
import { X } from '@lucide/vue'
import type { Notice } from '~/stores/notices'

const notices = useNotices()
async function reverse(id: number, postingId: number): Promise<void> {
  notices.dismiss(id)
  try {
    const done = await $fetch(`/api/stock/postings/${postingId}/reverse`, {
      method: 'POST',
      body: { key: crypto.randomUUID() },
    })
    notices.say({ kind: 'done', text: `${done.label}.` })
    await refreshNuxtData()
  } catch (error) {
    notices.say({ kind: 'problem', text: problemOf(error).detail })
  }
}
async function takeBack({ id, batchId, undoAt }: Notice): Promise<void> {
  notices.dismiss(id)
  try {
    await $fetch(undoAt ?? `/api/catalogue/batches/${batchId}/undo`, { method: 'POST' })
    notices.say({ kind: 'done', text: 'Undone: everything is as it was.' })
    await Promise.all([useReferences().reload(), refreshNuxtData()])
  } catch (error) {
    notices.say({ kind: 'problem', text: problemOf(error).detail })
  }
}
</script>

<template>
  <div class="pointer-events-none fixed bottom-4 left-4 z-50 grid max-w-lg gap-2" aria-live="polite">
    <div
      v-for="notice in notices.list"
      :key="notice.id"
      class="pointer-events-auto flex items-start gap-3 rounded-md border bg-sheet px-4 py-3 shadow-lg"
      :class="notice.kind === 'problem' ? 'border-brick' : 'border-line'"
    >
      <div>
        <p>{{ notice.text }}</p>
        <p v-if="notice.links?.length" class="mt-1 flex flex-wrap gap-x-3">
          <NuxtLink v-for="link in notice.links" :key="link.to" :to="link.to" class="font-medium underline">{{
            link.label
          }}</NuxtLink>
        </p>
      </div>
      <UiButton v-if="notice.postingId" small @click="reverse(notice.id, notice.postingId)">Reverse</UiButton>
      <UiButton v-if="notice.batchId" small @click="takeBack(notice)">Undo</UiButton>
      <button type="button" aria-label="Close" class="text-soft hover:text-ink" @click="notices.dismiss(notice.id)">
        <X class="size-4" />
      </button>
    </div>
  </div>
</template>
