/** Move the focus to the next field of the form a field is in; it stays where there is none. */
export function focusNext(from: HTMLElement): void {
  const form = from.closest('[data-form], [data-test=given], .v-dialog, .form') ?? document.body
  const fields = [...form.querySelectorAll<HTMLInputElement>('.v-text-field:not(.v-select) input, .v-textarea textarea')]
  const usable = fields.filter((field) => !field.disabled && !field.readOnly && field.offsetParent !== null && field.tabIndex >= 0)
  const next = usable[usable.indexOf(from as HTMLInputElement) + 1]
  if (next) {
    next.focus()
    next.select()
  } else from.blur()
  if (!next) from.focus()
}
