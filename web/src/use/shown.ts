/** `v-shown="value"`: a field shows the value, but never over what is being typed into it.
 *
 * A plain `:value` is written again whenever its component is drawn again, for any reason;
 * a field somebody is in the middle of would lose their words to the next frame painted.
 */
import type { Directive } from 'vue'

export const shown: Directive<HTMLInputElement, string | number> = {
  mounted(field, { value }) {
    field.value = String(value)
  },
  updated(field, { value }) {
    if (document.activeElement !== field && field.value !== String(value)) field.value = String(value)
  },
}
