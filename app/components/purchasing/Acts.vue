<script setup lang="ts">
import type { PurchaseState } from '~~/shared/purchasing/state'
import type { MenuAct } from '~/components/ui/Menu.vue'

/** What has a dialog of its own. */
export type PurchaseDialog =
  'receive' | 'invoice' | 'charges' | 'credit' | 'return' | 'send' | 'confirm' | 'deliver' | 'stand-in'
/** How far an order is, and what can be done with it now; what stands out is what comes next. */
const props = defineProps<{
  order: {
    id: number
    number: string
    supplierId: number
    version: number
    status: string
    state: PurchaseState
    sentOn: string | null
    unsent: readonly unknown[]
    toApprove: string | null
    uninvoiced: readonly unknown[] | null
    invoiced: readonly unknown[] | null
    lines: readonly { received: string }[]
    /** The customer's order to which the supplier delivers by themselves. */
    directOrder: object | null
    letters: readonly { state: string }[]
  }
  /** Something of it is still to come. */
  isOpen: boolean
  isEditing: boolean
}>()
const emit = defineEmits<{ begin: [what: PurchaseDialog | 'edit']; changed: [] }>()
const session = useSession()
const notices = useNotices()
const { digits } = usePrint()
const { busy, detail, run } = useAct()
const isCancelling = ref(false)
const mayBuy = computed(() => session.allows('buy'))
const canChange = computed(() => mayBuy.value && props.order.state !== 'cancelled' && !props.isEditing)
const isToSend = computed(
  () =>
    mayBuy.value &&
    props.order.status === 'open' &&
    (props.order.state === 'draft' || (props.order.sentOn !== null && props.order.unsent.length > 0)),
)
const hasCome = computed(() => props.order.lines.some((line) => line.received !== '0'))

async function act(how: 'cancel' | 'reopen' | 'approve', said: string): Promise<void> {
  const { id, number, version } = props.order
  const done = await run((key) =>
    $fetch(`/api/purchasing/orders/${id}/${how}`, { method: 'POST', body: { key, version } }),
  )
  if (done) {
    isCancelling.value = false
    notices.say({ kind: 'done', text: `${number} is ${said}.` })
    emit('changed')
  }
}
const others = computed((): MenuAct[] => {
  const { id, status, state, supplierId } = props.order
  const seesCosts = session.allows('costs')
  const acts: readonly (MenuAct & { readonly isThere: boolean })[] = [
    {
      name: 'Print (PDF)',
      isThere: seesCosts,
      act: () => void window.open(`/api/purchasing/orders/${id}/print`, '_blank'),
    },
    {
      name: 'Save as UBL 2.1 (XML)',
      isThere: seesCosts,
      act: () => void window.open(`/api/purchasing/orders/${id}/ubl`, '_self'),
    },
    {
      name: 'Top up',
      isThere: mayBuy.value && state === 'draft',
      act: () => void navigateTo({ path: '/purchasing', query: { tab: 'list', supplier: supplierId, order: id } }),
    },
    {
      name: 'Send it again',
      isThere: mayBuy.value && status === 'open' && !isToSend.value,
      act: () => emit('begin', 'send'),
    },
    {
      // Where letters stay in the mailbox here, nobody else can answer.
      name: 'Let a stand-in answer',
      isThere: mayBuy.value && status === 'open' && props.order.letters.some((letter) => letter.state === 'kept'),
      act: () => emit('begin', 'stand-in'),
    },
    {
      name: 'Return goods',
      isThere: session.allows('receive') && hasCome.value,
      act: () => emit('begin', 'return'),
    },
    {
      name: 'Enter charges',
      isThere: session.allows('books') && hasCome.value,
      act: () => emit('begin', 'charges'),
    },
    {
      name: 'Enter a credit note',
      isThere: session.allows('books') && (props.order.invoiced?.length ?? 0) > 0,
      act: () => emit('begin', 'credit'),
    },
    {
      name: 'Cancel the order',
      isThere: mayBuy.value && status === 'open',
      act: () => {
        isCancelling.value = true
      },
    },
    {
      name: 'Reopen the order',
      isThere: mayBuy.value && ['cancelled', 'closed short'].includes(state),
      act: () => void act('reopen', 'open'),
    },
  ]
  return acts.filter(({ isThere }) => isThere)
})
</script>

<template>
  <PurchasingState :state="order.state" />
  <UiMenu v-if="others.length" label="More" :acts="others" />
  <UiButton v-if="canChange" @click="emit('begin', 'edit')">Change the order</UiButton>
  <UiButton v-if="canChange && order.status === 'open'" @click="emit('begin', 'confirm')">Confirm</UiButton>
  <UiButton v-if="session.allows('books') && order.uninvoiced?.length" @click="emit('begin', 'invoice')"
    >Enter an invoice</UiButton
  >
  <UiButton
    v-if="isOpen && session.allows('receive')"
    :primary="!isToSend"
    @click="emit('begin', order.directOrder ? 'deliver' : 'receive')"
    >{{ order.directOrder ? 'Confirm the delivery' : 'Receive goods' }}</UiButton
  >
  <UiButton
    v-if="isToSend && order.toApprove !== null && session.allows('approve')"
    :busy="busy"
    @click="act('approve', 'approved')"
    >Approve</UiButton
  >
  <UiButton v-if="isToSend" primary @click="emit('begin', 'send')">{{
    order.sentOn ? 'Send the change' : 'Send the order'
  }}</UiButton>
  <p v-if="isToSend && order.toApprove !== null" class="w-full text-right text-soft">
    It comes to more than {{ digits(order.toApprove) }}, and is approved before it is sent.
  </p>
  <UiProblem v-if="!isCancelling" :text="detail" />
  <UiDialog
    v-model="isCancelling"
    :title="`Cancel ${order.number}?`"
    act="Cancel the order"
    :busy="busy"
    :problem="detail"
    @act="act('cancel', hasCome ? 'closed short' : 'cancelled')"
  >
    <p>
      {{ hasCome ? 'What has come stays; the rest is given up.' : 'Nothing of it is expected any more.' }}
      {{ order.sentOn ? 'Tell the supplier. ' : '' }}It can be opened again later.
    </p>
  </UiDialog>
</template>
