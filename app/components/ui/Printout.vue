<script setup lang="ts">
import { isRightAligned, type DataColumn } from '~/composables/ui/data-column'

/** A list on paper: all of its rows, with heads on each page. It shows only while it is printed. */
defineProps<{ title: string; narrowed: string; rows: readonly object[]; columns: readonly DataColumn[] }>()
const session = useSession()
const { cellText } = useCellText()
const { longDay } = usePrint()
</script>

<template>
  <Teleport to="body">
    <div class="printout">
      <header>
        <h1>{{ title }}</h1>
        <p>{{ [session.company?.name, longDay(session.today), narrowed].filter(Boolean).join(' · ') }}</p>
      </header>
      <table>
        <thead>
          <tr>
            <th v-for="column in columns" :key="column.key" :class="isRightAligned(column) && 'right'">
              {{ column.name }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, index) in rows" :key="index">
            <td v-for="column in columns" :key="column.key" :class="isRightAligned(column) && 'right'">
              {{ cellText(row, column) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </Teleport>
</template>
