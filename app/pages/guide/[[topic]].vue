<script setup lang="ts">
import { marked } from 'marked'

/** The guide, as it stands in docs/guide: what is written there is what is read here. */
const TOPICS = [
  { key: 'lists', name: 'Lists, fields and dates' },
  { key: 'catalogue', name: 'Items and units' },
  { key: 'structures', name: 'Bills, kits and break-downs' },
  { key: 'stock', name: 'Stock, lots and counts' },
  { key: 'cost', name: 'What goods cost' },
  { key: 'workshop', name: 'The workshop' },
  { key: 'demand', name: 'Orders of customers' },
  { key: 'forecasts', name: 'Forecasts' },
  { key: 'planning', name: 'How a plan is worked out' },
  { key: 'buying', name: 'Buying and goods in' },
  { key: 'dispatch', name: 'Picking, packing, shipping' },
  { key: 'books', name: 'Books' },
  { key: 'running', name: 'Your company' },
] as const
const TEXTS = import.meta.glob<string>('../../../docs/guide/*.md', { query: '?raw', import: 'default' })
/** The pictures of docs/screenshots by their names: the addresses under which they are served. */
const PICTURES = import.meta.glob<string>('../../../docs/screenshots/*.png', { query: '?url', import: 'default' })
async function withPictures(text: string): Promise<string> {
  let shown = text
  for (const [named, name] of text.matchAll(/\.\.\/screenshots\/([\w-]+)\.png/g)) {
    const address = await PICTURES[`../../../docs/screenshots/${name}.png`]?.()
    shown = address ? shown.replaceAll(named, address) : shown
  }
  return shown
}

const route = useRoute()
const topic = computed(() => TOPICS.find((entry) => entry.key === route.params.topic) ?? TOPICS[0])
const html = ref('')
watchEffect(async () => {
  const text = await TEXTS[`../../../docs/guide/${topic.value.key}.md`]!()
  // Links from one text to the next stay inside; a table that is wider than the page is scrolled by keys, too.
  const written = await marked.parse((await withPictures(text)).replace(/\]\((\w+)\.md\)/g, '](/guide/$1)'))
  html.value = written.replaceAll('<table>', '<table tabindex="0">')
})
useHead({ title: () => `${topic.value.name} · Tsumiki` })

/** A link within the text goes there without loading the application anew. */
function follow(event: MouseEvent): void {
  const link = (event.target as HTMLElement).closest('a')?.getAttribute('href')
  if (link?.startsWith('/guide/')) {
    event.preventDefault()
    void navigateTo(link)
  }
}
</script>

<template>
  <div class="grid grid-cols-1 items-start gap-6 md:grid-cols-[14rem_minmax(0,1fr)]">
    <nav aria-label="Guide" class="unprinted">
      <p class="mb-2 font-semibold">Guide</p>
      <ul>
        <li v-for="entry in TOPICS" :key="entry.key">
          <NuxtLink
            :to="`/guide/${entry.key}`"
            class="block rounded-block px-2 py-1.5 hover:bg-wash"
            :class="entry.key === topic.key && 'bg-wash font-medium'"
            :aria-current="entry.key === topic.key ? 'page' : undefined"
            >{{ entry.name }}</NuxtLink
          >
        </li>
      </ul>
    </nav>
    <UiSheet>
      <!-- The text ships with the application; nothing in it was typed by anybody else. -->
      <!-- eslint-disable-next-line vue/no-v-html -->
      <article class="guide" @click="follow" v-html="html" />
    </UiSheet>
  </div>
</template>
