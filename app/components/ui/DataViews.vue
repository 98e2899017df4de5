<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { X } from '@lucide/vue'
import type { SavedView } from '~~/shared/lists'
import type { ListState } from '~/composables/ui/use-list-state'

/** The saved views of a list: one's own, and those that others share. */
const props = defineProps<{ list: string; state: ListState }>()
const notices = useNotices()
const anchor = useTemplateRef('anchor')
const views = ref<readonly SavedView[]>([])
const form = reactive({ name: '', isShared: false })
const saving = useAct()

async function load(): Promise<void> {
  views.value = await $fetch('/api/company/views', { query: { list: props.list } })
}
async function save(): Promise<void> {
  const body = { list: props.list, name: form.name, query: props.state.write(), isShared: form.isShared }
  if (await saving.run(() => $fetch('/api/company/views', { method: 'POST', body }))) {
    notices.say({ kind: 'done', text: `Saved the view “${form.name}”.` })
    form.name = ''
    await load()
  }
}
async function remove(view: SavedView): Promise<void> {
  if (await saving.run(() => $fetch<{ id: number }>(`/api/company/views/${view.id}`, { method: 'DELETE' }))) {
    await load()
  }
}
</script>

<template>
  <Popover v-slot="{ open }">
    <div ref="anchor">
      <PopoverButton class="h-9 rounded-block border border-line bg-sheet px-3 hover:bg-wash" @click="load"
        >Views</PopoverButton
      >
      <UiFloating v-if="open" :anchor="anchor" placement="bottom-end">
        <PopoverPanel v-slot="{ close }" static class="w-80 p-3">
          <ul v-if="views.length" class="mb-3 grid gap-1" aria-label="Saved views">
            <li v-for="view in views" :key="view.id" class="flex items-center gap-2">
              <button
                type="button"
                class="min-w-0 flex-1 truncate rounded-block px-2 py-1 text-left hover:bg-wash"
                @click="
                  () => {
                    state.apply(view.query)
                    close()
                  }
                "
              >
                {{ view.name }}
                <span v-if="!view.isOwn" class="text-fine text-soft">shared by {{ view.owner }}</span>
                <span v-else-if="view.isShared" class="text-fine text-soft">shared</span>
              </button>
              <button
                v-if="view.isOwn"
                type="button"
                class="p-1 text-soft hover:text-ink"
                :aria-label="`Remove the view ${view.name}`"
                @click="remove(view)"
              >
                <X class="size-3.5" />
              </button>
            </li>
          </ul>
          <p v-else class="mb-3 text-soft">
            No views yet. A view keeps search, filters, sort and columns under a name.
          </p>
          <form class="grid gap-2 border-t border-line pt-3" @submit.prevent="save">
            <UiTextField v-model="form.name" label="Save what is shown as" :error="saving.fields.value.name" />
            <UiCheckField v-model="form.isShared" label="Everybody may use it" />
            <UiButton type="submit" :busy="saving.busy.value">Save the view</UiButton>
          </form>
        </PopoverPanel>
      </UiFloating>
    </div>
  </Popover>
</template>
