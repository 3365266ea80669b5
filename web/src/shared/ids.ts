/** A readable id for something new, free among those that are there. */
export function freshId(name: string, taken: Iterable<{ id: string } | string>): string {
  const used = new Set([...taken].map((x) => (typeof x === 'string' ? x : x.id)))
  used.add('home')
  const plain =
    name
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 40) || 'new'
  let id = plain
  for (let n = 2; used.has(id); n++) id = `${plain}-${n}`
  return id
}

/** An id no one else makes. Browsers withhold randomUUID from pages that come over plain http, as a phone's does. */
export function uniqueId(): string {
  if (typeof crypto.randomUUID === 'function') return crypto.randomUUID()
  const bytes = crypto.getRandomValues(new Uint8Array(16))
  return Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('')
}
