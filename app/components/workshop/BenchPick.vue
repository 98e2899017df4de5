<script setup lang="ts">
import { Check } from '@lucide/vue'
import type { BuildLineAnswer, Choice } from '~~/shared/workshop/answers'

const props = defineProps<{
  lines: readonly BuildLineAnswer[]
  isPicked: (line: BuildLineAnswer) => boolean
  chosen: (line: BuildLineAnswer) => Choice | undefined
}>()
const emit = defineEmits<{ pick: [line: BuildLineAnswer, choice: Choice | null]; leave: [line: BuildLineAnswer] }>()
const { amount } = usePrint()
const scan = ref('')
const summary = ref('')
const where = (choice: { piece: string | null; lot: string | null; bin: string }): string =>
  [choice.piece, choice.lot && `lot ${choice.lot}`, choice.bin].filter(Boolean).join(', ')
function read(): void {
  const found = readPick(
    scan.value,
    props.lines,
    (item) => props.lines.find((line) => line.itemId === item)?.codes ?? [],
  )
  scan.value = ''
  if (!found.ok) {
    summary.value = found.summary
    return
  }
  emit('pick', found.line, found.choice)
  summary.value = `${found.line.code}${found.choice ? `, ${where(found.choice)}` : ''}: picked.`
}
function turn(line: BuildLineAnswer): void {
  summary.value = ''
  if (props.isPicked(line)) {
    emit('leave', line)
  } else {
    emit('pick', line, null)
  }
}
const from = (line: BuildLineAnswer): string => {
  const choice = props.chosen(line)
  return choice ? where(choice) : line.takes.map(where).join(' · ')
}
</script>

<template>
  <section aria-label="To pick" class="rounded-md border border-line bg-sheet">
    <form class="border-b border-line p-3" @submit.prevent="read">
      <input
        v-model="scan"
        aria-label="Scan to pick"
        placeholder="Scan a label, a lot or an item"
        class="h-[48px] w-full rounded-block border-2 border-line bg-sheet px-3 text-lg"
        autofocus
        autocomplete="off"
      />
      <p class="mt-1 min-h-5 text-soft" role="status">{{ summary }}</p>
    </form>
    <ul>
      <li v-for="line in lines" :key="line.id" class="border-b border-line/60 last:border-0">
        <button
          type="button"
          class="flex w-full items-center gap-3 px-3 py-2.5 text-left hover:bg-wash"
          :aria-pressed="isPicked(line)"
          @click="turn(line)"
        >
          <span
            class="grid size-9 shrink-0 place-items-center rounded-block border-2"
            :class="
              isPicked(line)
                ? 'border-maple bg-maple-face text-[#2a2520]'
                : line.missing !== '0'
                  ? 'border-dashed border-brick'
                  : 'border-line'
            "
            ><Check v-if="isPicked(line)" class="size-5"
          /></span>
          <span class="min-w-0 flex-1"
            ><b class="block truncate text-lg font-semibold">{{ line.code }}</b
            ><span class="block truncate text-soft">{{ from(line) }}</span
            ><span v-if="line.missing !== '0'" class="block font-medium text-brick"
              >{{ amount(line.missing, 4) }} {{ line.symbol }} missing</span
            ></span
          >
          <span class="text-right text-lg font-semibold whitespace-nowrap tabular-nums"
            >{{ amount(line.next, 4) }} <span class="font-normal text-soft">{{ line.symbol }}</span></span
          >
        </button>
      </li>
    </ul>
    <p v-if="lines.length === 0" class="p-4 text-soft">Nothing is left to pick.</p>
  </section>
</template>
