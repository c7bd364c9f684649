/** One's own words without their form, block by block: what is quoted was written by others. */
export function textOf(html: string): string {
  const blocks = [...parse(html).body.querySelectorAll('p, li, h1, h2, h3, h4')];
  return blocks
    .filter((block) => !block.closest('blockquote'))
    .map((block) => block.textContent)
    .join('\n');
}

/** A message’s HTML as a document in which nothing runs. */
export function parse(html: string): Document {
  return new DOMParser().parseFromString(html, 'text/html');
}
