<script setup lang="ts">
import type { BuildAnswer, BuildLineAnswer, Remedy } from '~~/shared/workshop/answers'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const notices = useNotices()
const { asTyped, day, isPast, money, amount } = usePrint()
const answer = orNotFound(await useFetch(() => `/api/workshop/builds/${id.value}`))
const build = computed(() => answer.data.value as BuildAnswer | undefined)
const dialog = ref<'record' | 'edit' | null>(null)
const instead = ref<{ line: BuildLineAnswer; remedy: Extract<Remedy, { kind: 'substitute' }> | null } | null>(null)
const bringing = ref<BuildLineAnswer | null>(null)
const { busy, detail, run } = useAct()
useHead({ title: () => `${build.value?.number} · Tsumiki` })

const verb = computed(() => (build.value?.source === 'kit' ? 'Pack' : 'Build'))
const isOpen = computed(() => ['draft', 'ready', 'started'].includes(build.value?.status ?? ''))
const mayAct = computed(() => session.allows('make'))
const isShort = computed(() => build.value?.components.some((line) => line.missing !== '0') ?? false)
const canAlong = computed(
  () =>
    build.value?.components
      .filter((line) => line.missing !== '0')
      .every((line) => line.remedies.some((remedy) => remedy.kind === 'build')) ?? false,
)
const begun = computed(() => build.value?.components.some((line) => line.used !== '0') || build.value?.made !== '0')
async function changed(): Promise<void> {
  dialog.value = null
  instead.value = null
  bringing.value = null
  void refreshToday()
  await answer.refresh()
}
const post = (what: string, body: object = {}) =>
  run((key) =>
    $fetch<{ missing?: string[]; writtenOff?: string; taken?: number }>(`/api/workshop/builds/${id.value}/${what}`, {
      method: 'POST',
      body: { key, version: build.value!.version, ...body },
    }),
  )
async function act(what: 'ready' | 'free' | 'start' | 'cancel' | 'close' | 'undo', body: object = {}): Promise<void> {
  const done = await post(what, body)
  if (!done) {
    return
  }
  if (what === 'ready' && done.missing?.length) {
    notices.say({ kind: 'done', text: `What is there is set aside; ${done.missing.join(', ')} missing.` })
  }
  if (what === 'close' && done.writtenOff && done.writtenOff !== '0') {
    notices.say({
      kind: 'done',
      text: `${build.value!.number} is finished; ${money(done.writtenOff!)} that were in work are written off.`,
    })
  }
  if (what === 'undo') {
    notices.say({
      kind: 'done',
      text: `${build.value!.number}: ${done.taken} ${plural(done.taken ?? 0, 'act', 'acts')} taken back; stock, lots and cost are as they were.`,
    })
  }
  await changed()
}
async function go(line: BuildLineAnswer, remedy: Remedy): Promise<void> {
  if (remedy.kind === 'substitute') {
    instead.value = { line, remedy }
  }
  if (remedy.kind === 'transfer') {
    bringing.value = line
  }
  if (remedy.kind === 'buy') {
    await navigateTo({
      path: '/purchasing/new',
      query: {
        supplier: remedy.supplierId,
        item: remedy.itemId,
        code: remedy.code,
        name: remedy.name,
        quantity: asTyped(remedy.quantity),
        due: build.value!.releaseOn,
      },
    })
  }
  if (remedy.kind === 'build') {
    const made = await run((key) =>
      $fetch('/api/workshop/builds', {
        method: 'POST',
        body: {
          key,
          itemId: line.itemId,
          quantity: asTyped(remedy.quantity),
          unit: line.stockUnit,
          dueOn: build.value!.dueOn,
          siteId: build.value!.siteId,
        },
      }),
    )
    if (made) {
      notices.say({
        kind: 'done',
        text: `${made.number} is planned: ${amount(remedy.quantity, 4)} ${line.symbol} ${line.code}.`,
      })
      await navigateTo(`/workshop/builds/${made.id}`)
    }
  }
  if (remedy.kind === 'break down') {
    const made = await run((key) =>
      $fetch('/api/workshop/break-downs', {
        method: 'POST',
        body: {
          key,
          itemId: remedy.itemId,
          recipeId: remedy.recipeId,
          times: remedy.times,
          dueOn: build.value!.dueOn,
          siteId: build.value!.siteId,
        },
      }),
    )
    if (made) {
      await navigateTo(`/workshop/break-downs/${made.id}`)
    }
  }
}
useKeys([
  {
    key: 'b',
    summary: 'record the build',
    act: () => {
      if (isOpen.value && mayAct.value) {
        dialog.value = 'record'
      }
    },
  },
  {
    key: 'e',
    summary: 'change the job',
    act: () => {
      if (isOpen.value && mayAct.value) {
        dialog.value = 'edit'
      }
    },
  },
])
</script>

<template>
  <div v-if="build">
    <UiHead
      :title="`${build.number}  ${verb} ${amount(build.quantity, 6)} ${build.symbol} ${build.code}`"
      :summary="`${build.name} · by revision ${build.revision} · ${build.site}${build.note ? ` · ${build.note}` : ''}`"
    >
      <span v-if="build.forNumber && build.forLink" class="text-soft"
        >for <NuxtLink :to="build.forLink" class="underline">{{ build.forNumber }}</NuxtLink></span
      >
      <span v-if="isOpen" :class="isPast(build.dueOn) ? 'font-semibold text-brick' : 'font-semibold'"
        >due {{ day(build.dueOn) }}</span
      ><span v-else-if="build.doneOn" class="text-soft">done {{ day(build.doneOn) }}</span>
      <WorkshopStates :state="build.status" />
    </UiHead>
    <div v-if="mayAct" class="mb-3 flex flex-wrap items-center gap-2">
      <template v-if="isOpen">
        <UiButton :primary="!isShort || canAlong || begun" @click="dialog = 'record'"
          >{{ verb }} {{ amount(build.left, 6) }}</UiButton
        >
        <UiButton v-if="build.status !== 'ready'" :busy="busy" @click="act('ready', { whole: !isShort })">{{
          isShort ? 'Allocate what is there' : 'Allocate components'
        }}</UiButton>
        <UiButton v-if="build.components.some((line) => line.allocated !== '0')" :busy="busy" @click="act('free')"
          >Deallocate</UiButton
        >
        <UiButton v-if="build.status !== 'started'" :busy="busy" @click="act('start')">Start</UiButton>
        <NuxtLink
          :to="`/workshop/bench/${build.id}`"
          class="inline-flex h-9 items-center rounded-block border border-line bg-sheet px-3 hover:bg-wash"
          >At the bench</NuxtLink
        >
        <UiButton @click="dialog = 'edit'">Change the job</UiButton>
        <a
          :href="`/api/workshop/builds/${build.id}/pick-list`"
          class="inline-flex h-9 items-center rounded-block border border-line bg-sheet px-3 hover:bg-wash"
          target="_blank"
          >Pick list</a
        >
        <a
          :href="`/api/workshop/builds/${build.id}/sheet`"
          class="inline-flex h-9 items-center rounded-block border border-line bg-sheet px-3 hover:bg-wash"
          target="_blank"
          >Build sheet</a
        >
        <span class="flex-1" />
        <UiButton v-if="build.status === 'started' && begun" :busy="busy" @click="act('close')"
          >Close the build</UiButton
        >
        <UiButton v-if="!begun" :busy="busy" @click="act('cancel')">Cancel the build</UiButton>
      </template>
      <UiButton v-if="begun" :busy="busy" @click="act('undo')">Reverse all of it</UiButton>
    </div>
    <UiProblem :text="dialog || instead ? '' : detail" class="mb-3" />
    <UiSheet v-if="begun && isOpen" class="mb-4"
      ><span class="flex items-center gap-3"
        ><span class="flex h-4 w-72" aria-hidden="true"
          ><GoodsBlock
            state="on hand"
            :style="{ width: `${Math.min(100, (Number(build.made) / Number(build.quantity)) * 100)}%` }" /><GoodsBlock
            v-if="build.left !== '0'"
            state="making planned"
            class="flex-1" /></span
        ><span
          ><b class="font-semibold" data-test="made">{{ amount(build.made, 6) }}</b> of {{ amount(build.quantity, 6) }}
          {{ build.symbol }} made</span
        ></span
      ></UiSheet
    >
    <UiSheet :title="'Components'" flush class="mb-4">
      <template #head
        ><span v-if="isOpen && build.work && build.work !== '0'" class="text-soft"
          >and work worth {{ money(build.work) }}, {{ amount(build.minutesLeft, 1) }} minutes</span
        ></template
      >
      <WorkshopComponents
        v-if="build.components.length"
        :build="build"
        :may-act="mayAct"
        :busy="busy"
        @remedy="go"
        @instead="
          (line) => {
            instead = { line, remedy: null }
          }
        "
      />
      <UiEmptyState v-else title="Nothing" summary="This job takes nothing." />
    </UiSheet>
    <WorkshopCost v-if="begun && build.cost" :cost="build.cost" :done="build.status === 'done'" class="mb-4" />
    <UiSheet v-if="build.withSubAssemblies.length" title="Built for it" flush class="mb-4"
      ><ul>
        <li
          v-for="entry in build.withSubAssemblies"
          :key="entry.id"
          class="flex gap-3 border-b border-line/60 px-4 py-2 last:border-0"
        >
          <NuxtLink :to="`/workshop/builds/${entry.id}`" class="font-medium underline">{{ entry.number }}</NuxtLink>{{
            amount(entry.quantity, 6)
          }}
          {{ entry.code }}<span class="text-soft">{{ entry.status }}</span>
        </li>
      </ul></UiSheet
    >
    <WorkshopOutputs v-if="build.outputs.length" :outputs="build.outputs" />
    <StockPostings :postings="build.postings" @reversed="changed" />
    <WorkshopRecord v-if="dialog === 'record'" :build="build" @done="changed" @close="dialog = null" @stale="changed" />
    <WorkshopEdit v-if="dialog === 'edit'" :build="build" @done="changed" @close="dialog = null" />
    <WorkshopInstead
      v-if="instead"
      :build="build"
      :line="instead.line"
      :remedy="instead.remedy"
      @done="changed"
      @close="instead = null"
    />
    <StockBring
      v-if="bringing"
      :to="{
        itemId: bringing.itemId,
        code: bringing.code,
        name: bringing.name,
        siteId: build.siteId,
        site: build.site,
        symbol: bringing.symbol,
        available: '0',
        backOrder: bringing.missing,
      }"
      @done="changed"
      @close="bringing = null"
    />
  </div>
</template>
