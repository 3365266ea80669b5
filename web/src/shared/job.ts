import { api } from './api/client'

const LOOK_MS = 200

export const isBusy = (job: { state: string } | null) => job?.state === 'waiting' || job?.state === 'running'

/** Ask after a job until it has ended; seen: told what each look shows, and false once nobody wants it any more. */
export async function followJob<J extends { state: string }>(look: () => Promise<J>, seen: (job: J) => boolean) {
  for (;;) {
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS))
    const job = await look()
    if (!seen(job) || !isBusy(job)) return
  }
}

/** Stop a job, or let its result go. */
export const stopJob = (id: string) => api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: id } } })
