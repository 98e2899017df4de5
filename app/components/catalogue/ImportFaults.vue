<script setup lang="ts">
import type { ImportPreview } from '~~/shared/catalogue/import'

const props = defineProps<{ fileName: string; faults: ImportPreview['faults'] }>()
/** The faults as a file, to be worked through beside the spreadsheet. */
function saveFaults(): void {
  const lines = props.faults.map((fault) => [String(fault.line), fault.column, fault.text, fault.detail])
  void saveCsv([['line', 'column', 'text', 'fault'], ...lines], `faults of ${props.fileName}.csv`)
}
</script>

<template>
  <div role="alert" class="mt-2">
    <p class="flex items-center gap-3 font-semibold text-brick">
      {{ faults.length }} {{ plural(faults.length, 'thing', 'things') }} to mend first; nothing is taken in until then.
      <UiButton small @click="saveFaults">Save the list</UiButton>
    </p>
    <div class="mt-2 max-h-72 overflow-y-auto rounded-block border border-line">
      <UiLinesTable is-bare class="w-full" aria-label="Faults of the file">
        <thead>
          <tr class="sticky top-0 bg-wash text-left text-fine text-soft">
            <th class="px-2 py-1 text-right font-medium">Line</th>
            <th class="px-2 py-1 font-medium">Column</th>
            <th class="px-2 py-1 font-medium">It says</th>
            <th class="px-2 py-1 font-medium">What is wrong</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(fault, index) in faults.slice(0, 200)" :key="index" class="border-t border-line/60">
            <td class="px-2 py-1 text-right">{{ fault.line }}</td>
            <td class="px-2 py-1 whitespace-nowrap">{{ fault.column }}</td>
            <td class="max-w-40 truncate px-2 py-1">{{ fault.text }}</td>
            <td class="px-2 py-1">{{ fault.detail }}</td>
          </tr>
        </tbody>
      </UiLinesTable>
    </div>
  </div>
</template>
