/** A file as the body of a request: as it is, and not as JSON. */
export function asFile(file: File) {
  return {
    body: file as unknown as string,
    bodySerializer: (body: unknown) => body as Blob,
    headers: { 'content-type': 'application/octet-stream' },
  }
}
