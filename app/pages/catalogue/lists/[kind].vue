<script setup lang="ts">
import type { DefinitionRow } from '~~/shared/catalogue/answers'
import { COST_TABLES, rightToChange } from '~~/shared/catalogue/words'
import type { DataColumn } from '~/composables/ui/data-column'
import type { ListKind } from '~/composables/catalogue/definition-form'
import { DEFINITION_FORMS } from '~/composables/catalogue/definition-forms'
const route = useRoute()
const router = useRouter()
const session = useSession()
const references = useReferences()
const kind = computed(() => String(route.params.kind) as ListKind)
if (!(kind.value in DEFINITION_FORMS)) {
  throw createError({ statusCode: 404, message: 'There is no such list.', fatal: true })
}
const about = computed(() => DEFINITION_FORMS[kind.value])
const { data, refresh } = await useFetch<DefinitionRow[]>(() => `/api/catalogue/definitions/${kind.value}`)
const open = ref<number | 'new' | null>(route.query.open ? Number(route.query.open) : null)
const showRetired = ref(false)
const list = useTemplateRef('list')
const mayEdit = computed(() => session.allows(rightToChange(kind.value)))

const found = computed(() =>
  (data.value ?? []).filter((row) => showRetired.value || !row.retired || row.id === open.value),
)
/** Groups stand as the tree that they are. */
const rows = computed(() => {
  if (kind.value !== 'groups') {
    return found.value.map((row) => ({ ...row, depth: 0 }))
  }
  return references.tree.flatMap((group) => {
    const row = found.value.find((r) => r.id === group.id)
    return row ? [{ ...row, depth: group.depth }] : []
  })
})
const columns = computed<readonly DataColumn[]>(() => {
  const titles: Readonly<Record<string, string>> = { groups: 'Numbering', units: 'Measures' }
  return [
    {
      key: 'name',
      name: about.value.one[0]!.toUpperCase() + about.value.one.slice(1),
      wrap: true,
      isFixed: true,
      ...(kind.value === 'groups' && { isSortable: false }),
    },
    ...(kind.value === 'calendars' ? [] : [{ key: 'code', name: 'Code', width: 130 }]),
    ...(open.value === null ? [{ key: 'summary', name: titles[kind.value] ?? 'About', wrap: true }] : []),
    { key: 'used', name: about.value.used, kind: 'number', width: 110 },
  ]
})
watch(open, (id) => {
  void router.replace({ query: typeof id === 'number' ? { open: id } : {} })
})
useKeys([
  {
    key: 'n',
    summary: 'add one',
    act: () => {
      if (mayEdit.value) {
        open.value = 'new'
      }
    },
  },
])
useHead({ title: () => `${about.value.title} · Tsumiki` })
async function changed(id?: number | null): Promise<void> {
  await Promise.all([refresh(), references.reload()])
  if (id !== undefined) {
    open.value = id
  }
}
</script>

<template>
  <div>
    <CatalogueLists />
    <UiHead :title="about.title" :summary="about.summary">
      <UiCheckField v-if="data?.some((row) => row.retired)" v-model="showRetired" label="Retired too" />
      <a
        v-if="session.allows('costs') || !COST_TABLES.includes(kind)"
        :href="`/api/catalogue/tables/${kind}`"
        class="text-soft underline"
        download
        >Export CSV</a
      >
      <NuxtLink v-if="mayEdit" :to="`/catalogue/files?table=${kind}`" class="text-soft underline"
        >Import a file</NuxtLink
      >
      <UiButton v-if="mayEdit" primary @click="open = 'new'">New {{ about.one }}</UiButton>
    </UiHead>
    <div
      class="grid items-start gap-4"
      :class="open === null ? '' : 'grid-cols-1 md:grid-cols-[minmax(0,2fr)_minmax(0,3fr)]'"
    >
      <UiSheet flush>
        <UiDataTable
          :key="kind"
          ref="list"
          :list="`definitions: ${kind}`"
          is-embedded
          :search-label="`Filter ${about.title.toLowerCase()}`"
          :columns="columns"
          :rows="rows"
          :label="about.title"
          :open="
            (row) => {
              open = row.id
            }
          "
          :muted="(row) => row.retired"
          :marked="(row) => row.id === open"
        >
          <template #name="{ row }"
            ><span :style="{ paddingLeft: `${row.depth * 1.25}rem` }" class="font-medium">{{ row.name }}</span
            >{{ ' ' }} <UiTag v-if="row.retired">retired</UiTag></template
          >
          <template #used="{ row }">{{ row.used || '' }}</template>
          <template #empty
            ><UiEmptyState
              :title="data?.length ? 'None fits' : `No ${about.one} yet`"
              :summary="data?.length ? 'Change the filter.' : about.empty"
          /></template>
        </UiDataTable>
      </UiSheet>
      <Suspense v-if="open !== null"
        ><CatalogueDefinition
          :id="open === 'new' ? null : open"
          :key="`${kind} ${open}`"
          :kind="kind"
          :may-edit="mayEdit"
          @changed="changed()"
          @made="changed($event)"
          @gone="changed(null)"
          @close="open = null"
      /></Suspense>
    </div>
  </div>
</template>
