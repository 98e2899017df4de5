<script setup lang="ts">
import { Menu, MenuButton, MenuItems } from '@headlessui/vue'
import { ChevronDown } from '@lucide/vue'

/** The nine areas: a row of joined blocks, and a menu where there is no room for them. */
const route = useRoute()
const { data } = useToday()
const session = useSession()
/** Books are all about what things cost. */
const areas = computed(() => AREAS.filter(({ path }) => path !== '/books' || session.allows('costs')))
const isCurrent = (path: string): boolean =>
  path === '/'
    ? route.path === '/'
    : route.path.startsWith(path) || (path === '/catalogue' && route.path.startsWith('/structure'))
const current = computed(() => AREAS.find((area) => isCurrent(area.path)) ?? null)
const waiting = (area: (typeof AREAS)[number]): number => (area.count ? (data.value?.counts[area.count] ?? 0) : 0)
const anchor = useTemplateRef('anchor')
</script>

<template>
  <div>
    <nav aria-label="Areas" class="hidden items-end md:flex">
      <NuxtLink
        v-for="(area, index) in areas"
        :key="area.path"
        :to="area.path"
        :title="`${area.summary} (${index + 1})`"
        :aria-current="isCurrent(area.path) ? 'page' : undefined"
        class="relative -ml-px flex items-center gap-1.5 border border-line px-2 first:rounded-l-block last:rounded-r-block lg:px-2.5"
        :class="
          isCurrent(area.path)
            ? 'z-10 h-10 rounded-t-block border-maple bg-maple-face font-semibold text-[#2a2520]'
            : 'h-8 bg-sheet hover:bg-wash'
        "
      >
        {{ area.name }}
        <span
          v-if="waiting(area)"
          class="hidden min-w-4 rounded-block px-1 text-center text-fine leading-4 font-semibold lg:block"
          :class="isCurrent(area.path) ? 'bg-white/40' : 'bg-ink/10'"
          >{{ waiting(area) }}</span
        >
      </NuxtLink>
    </nav>
    <nav aria-label="Areas" class="md:hidden">
      <Menu v-slot="{ open }">
        <div ref="anchor" class="pb-2">
          <MenuButton
            class="flex h-11 w-full items-center justify-between rounded-block border border-maple bg-maple-face px-3 font-semibold text-[#2a2520]"
            >{{ current?.name ?? 'Areas' }}<ChevronDown class="size-4" aria-hidden="true"
          /></MenuButton>
          <UiFloating v-if="open" :anchor="anchor" is-as-wide>
            <MenuItems static class="py-1 outline-none">
              <UiMenuLink
                v-for="area in areas"
                :key="area.path"
                :to="area.path"
                class="justify-between"
                :class="isCurrent(area.path) && 'font-semibold'"
                >{{ area.name }}<span v-if="waiting(area)" class="text-soft">{{ waiting(area) }}</span></UiMenuLink
              >
            </MenuItems>
          </UiFloating>
        </div>
      </Menu>
    </nav>
  </div>
</template>
