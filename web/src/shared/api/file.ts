/** A file as the body of a request: as it is, and not as JSON. */
export function asFile(file: File) {
  return {
    body: file as unknown as string,
    bodySerializer: (body: unknown) => body as Blob,
    headers: { 'content-type': 'application/octet-stream' },
  }
}

/** The file that was chosen, given to whoever sends it; the field is free again afterwards. */
export async function chosen(event: Event, send: (file: File) => Promise<unknown>) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  await send(file)
  input.value = ''
}
