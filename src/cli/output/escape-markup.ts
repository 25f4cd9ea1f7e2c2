/** A text as it can stand in markup, in attributes too (HTML Living Standard, 13.1.4). */
export function escapeMarkup(text: string): string {
  return text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
