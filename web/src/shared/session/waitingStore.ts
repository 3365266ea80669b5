import type { Waiting } from './waitingEdits'

/**
 * Edits that wait for the server, kept in the browser across reloads.
 * Each edit has a key of its own, so two tabs on one home never overwrite each other's.
 */
export class WaitingStore {
  constructor(
    private readonly home: string,
    private readonly storage: Storage,
  ) {}

  /** Every edit of this home that waits, in the order in which they were made. */
  all(): Waiting[] {
    const found: { order: number; edit: Waiting }[] = []
    for (const key of this.keys()) {
      const text = this.storage.getItem(key)
      if (!text) continue
      try {
        found.push(JSON.parse(text) as { order: number; edit: Waiting })
      } catch {
        this.storage.removeItem(key) // Cut off while it was written: there is nothing left to send.
      }
    }
    return found.sort((a, b) => a.order - b.order).map((entry) => entry.edit)
  }

  put(edit: Waiting): void {
    const known = this.storage.getItem(this.key(edit.edit_id))
    const order = known ? (JSON.parse(known) as { order: number }).order : this.nextOrder()
    this.storage.setItem(this.key(edit.edit_id), JSON.stringify({ order, edit }))
  }

  /** Write an edit again where it still waits; another tab may have removed it. */
  update(edit: Waiting): void {
    if (this.storage.getItem(this.key(edit.edit_id))) this.put(edit)
  }

  remove(editId: string): void {
    this.storage.removeItem(this.key(editId))
  }

  private nextOrder(): number {
    const orders = this.keys().map((key) => {
      const text = this.storage.getItem(key)
      return text ? (JSON.parse(text) as { order: number }).order : 0
    })
    return Math.max(Date.now(), ...orders.map((order) => order + 1))
  }

  private key(editId: string): string {
    return `${this.prefix}${editId}`
  }

  private get prefix(): string {
    return `imbuto.waiting.${encodeURIComponent(this.home)}/`
  }

  private keys(): string[] {
    this.adoptOldList()
    return Array.from({ length: this.storage.length }, (_, i) => this.storage.key(i) ?? '').filter((key) =>
      key.startsWith(this.prefix),
    )
  }

  /** Version 0.1 kept one list a home. */
  private adoptOldList(): void {
    const old = `imbuto.waiting.${this.home}`
    const text = this.storage.getItem(old)
    if (!text) return
    this.storage.removeItem(old)
    const list = JSON.parse(text) as Waiting[]
    list.forEach((edit, i) =>
      this.storage.setItem(this.key(edit.edit_id), JSON.stringify({ order: i - list.length, edit })),
    )
  }
}
