/** The address by which a telephone is asked to call (RFC 3966), from a number as one writes it. */
export function telOf(phone: string): string {
  return `tel:${phone.replace(/[^+\d]/g, '')}`;
}
