<script setup lang="ts">
import { Search } from '@lucide/vue'
import { onKeyStroke } from '@vueuse/core'

const session = useSession()
const sheets = useSheets()
const { longDay } = usePrint()
const find = useTemplateRef('find')
const keys = useTemplateRef('keys')
useRecordKey()
onKeyStroke('Escape', () => {
  if (!isTyping()) {
    sheets.close()
  }
})
</script>

<template>
  <div class="printed-whole flex h-screen flex-col">
    <a href="#page" class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">To the page</a>
    <header class="unprinted flex flex-wrap items-center justify-between gap-x-4 border-b border-line px-4 pt-2">
      <NuxtLink
        to="/"
        class="flex min-w-0 flex-1 items-center xl:flex-none gap-2 pb-2 font-semibold"
        :title="session.company?.name"
      >
        <img src="/tsumiki.svg" alt="" class="size-6" /><span class="truncate">{{ session.company?.name }}</span>
      </NuxtLink>
      <BenchAreaStrip class="order-last w-full self-end xl:order-none xl:w-auto" />
      <div class="flex items-center gap-2 pb-2">
        <span
          class="text-soft whitespace-nowrap max-sm:hidden"
          :title="session.company?.fixedDay ? 'The demo stands on this day' : 'Today'"
          >{{ longDay(session.today) }}</span
        >
        <button
          type="button"
          class="rounded-block border border-line bg-sheet p-1.5 hover:bg-wash pointer-coarse:min-h-[44px] pointer-coarse:min-w-[44px] pointer-coarse:px-3"
          aria-label="Find (Ctrl+K)"
          title="Find (Ctrl+K)"
          @click="find?.show()"
        >
          <Search class="size-4" />
        </button>
        <button
          type="button"
          class="size-7 rounded-block border border-line bg-sheet hover:bg-wash pointer-coarse:size-[44px]"
          aria-label="Keys of this page"
          title="Keys (?)"
          @click="keys?.show()"
        >
          ?
        </button>
        <BenchPerson />
      </div>
    </header>
    <div class="printed-whole flex min-h-0 flex-1">
      <main id="page" class="printed-whole min-w-0 flex-1 overflow-y-auto px-3 py-3 sm:px-5 sm:py-4" tabindex="-1">
        <slot />
      </main>
      <Suspense v-for="id in sheets.pinned" :key="`pinned-${id}`"><SheetItem :id="id" pinned /></Suspense>
      <Suspense v-if="sheets.current !== null" :key="sheets.current"
        ><SheetItem :id="sheets.current" :pinned="false"
      /></Suspense>
    </div>
    <BenchFind ref="find" />
    <BenchKeys ref="keys" />
    <BenchNotices />
    <BenchSignInAgain />
  </div>
</template>
