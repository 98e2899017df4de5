import { asForm } from '../ui/as-form'
import { itemOf, type ItemForm } from './use-item-form'

/** Gives an item another finest step, wherever one stands; what is stored keeps its value. */
export async function changeFinestStep(id: number, finestStep: string): Promise<true> {
  const item = await $fetch(`/api/catalogue/items/${id}`)
  const form = asForm(item) as unknown as ItemForm
  await $fetch(`/api/catalogue/items/${id}`, {
    method: 'PUT',
    body: { version: item.version, definition: { ...itemOf(form), finestStep } },
  })
  forgetMeasured(id)
  return true
}
