import type { DefinitionForm, ListKind } from './definition-form'
import { GOODS_FORMS } from './goods-forms'
import { PARTNER_FORMS } from './partner-forms'
import { PLACE_FORMS } from './place-forms'

/** How each list of the catalogue is shown and edited. */
export const DEFINITION_FORMS: Readonly<Record<ListKind, DefinitionForm>> = {
  ...GOODS_FORMS,
  ...PARTNER_FORMS,
  ...PLACE_FORMS,
}
