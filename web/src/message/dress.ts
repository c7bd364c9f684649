/** The letter in the light of the desk; what it says of its own looks comes first. */
export function dress(document: Document): void {
  const style = document.getElementById('desk') ?? document.head.appendChild(document.createElement('style'));
  style.id = 'desk';
  const value = (name: string) => getComputedStyle(window.document.documentElement).getPropertyValue(name);
  style.textContent =
    `html{color-scheme:${value('color-scheme')}}` +
    `body{margin:0;background:transparent;color:${value('--ink')};font:15px/1.55 "Helvetica Neue",Arial,sans-serif;overflow-wrap:anywhere}` +
    `a{color:${value('--indigo')}}p{margin:0 0 14px}blockquote{margin:0 0 14px;padding-left:12px;border-left:2px solid ${value('--line')}}`;
}
