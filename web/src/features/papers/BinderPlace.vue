<script setup lang="ts">
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import { asFile } from '@/shared/api/file'
import { blanks } from '@/shared/api/blanks'
import { uniqueId } from '@/shared/ids'
import { act, useSession } from '@/shared/session/session'
import type { Column, Row } from '@/shared/ui/fields/rows'
import RowsEditor from '@/shared/ui/fields/RowsEditor.vue'
import PapersTabs from './PapersTabs.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'

/** Warranties, manuals, serials, invoices: what is kept of the equipment, with its files; and who is called. */
const { state, home, pair } = useSession()
const KINDS = {
  warranty: 'warranty',
  manual: 'manual',
  serial: 'serial',
  invoice: 'invoice',
  firmware: 'firmware',
  photo: 'photograph',
  permit: 'permit',
  settings: 'settings',
  other: 'other',
}
const ROLES = {
  emergency: 'fire department, ambulance',
  utility: 'utility',
  electrician: 'electrician',
  doctor: 'doctor',
  supplier: 'supplier of the medical device',
  maker: 'maker',
  neighbour: 'neighbour',
  other: 'other',
}
const FILED: Column[] = [
  { key: 'title', title: 'what', kind: 'text', most: 80 },
  { key: 'kind', title: 'kind', kind: 'choice', choices: KINDS },
  { key: 'of', title: 'of', kind: 'text' },
  { key: 'number', title: 'number', kind: 'text' },
  { key: 'on', title: 'day', kind: 'date' },
  { key: 'until', title: 'until', kind: 'date' },
]
const CONTACTS: Column[] = [
  { key: 'name', title: 'name', kind: 'text', most: 80 },
  { key: 'role', title: 'for', kind: 'choice', choices: ROLES },
  { key: 'phone', title: 'phone', kind: 'text', most: 40 },
]
const filed = computed(() => Object.values(home.value?.binder ?? {}) as unknown as Row[])
const contacts = computed(() => Object.values(home.value?.household.contacts ?? {}) as unknown as Row[])
const at = computed(() => `/api/homes/${encodeURIComponent(state.value?.id ?? '')}`)
const fileOf = (row: Row) => row.file as { name: string; size: number } | null
const large = (bytes: number) => (bytes < 1e6 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`)
const attach = (row: Row, file: File) => {
  const query = { name: file.name, edit_id: uniqueId(), ...pair.value }
  return act((home_id) =>
    answer(
      api.POST('/api/homes/{home_id}/binder/{entry_id}/file', {
        params: { path: { home_id, entry_id: row.id }, query },
        ...asFile(file),
      }),
    ),
  )
}
</script>

<template>
  <div class="place binder">
    <header>
      <PapersTabs />
      <div class="tools"><a class="btn" :href="`${at}/export.zip`" download>The home with all files</a></div>
    </header>
    <div class="scroll">
      <section>
        <h2>On file</h2>
        <p class="soft small">
          PDFs, photos and texts up to 20 MB, kept in the data folder. Imbuto removes the location from photos. Files
          download and never open here.
        </p>
        <RowsEditor
          label="On file"
          what="entry"
          doc="home"
          path="/binder"
          :columns="FILED"
          :rows="filed"
          :blank="blanks.filed"
          :kept="Object.keys(home?.binder ?? {})"
        >
          <template #more="{ row }">
            <a v-if="fileOf(row)" class="btn tiny" :href="`${at}/binder/${encodeURIComponent(row.id)}/file`" download>
              {{ fileOf(row)?.name }} <small data-figure>{{ large(fileOf(row)?.size ?? 0) }}</small>
            </a>
            <FileButton
              tiny
              accept=".pdf,.jpg,.jpeg,.png,.txt,.csv"
              :of="String(row.title)"
              @file="attach(row, $event)"
              >{{ fileOf(row) ? 'another file' : 'file' }}</FileButton
            >
          </template>
        </RowsEditor>
        <p v-if="!filed.length" class="soft">
          Nothing is filed yet. Start with the station’s warranty and serial number.
        </p>
      </section>
      <section>
        <h2>Who to call</h2>
        <p class="soft small">These are on the run card and the household sheet.</p>
        <RowsEditor
          label="Who to call"
          what="contact"
          doc="home"
          path="/household/contacts"
          :columns="CONTACTS"
          :rows="contacts"
          :blank="blanks.contact"
          :kept="Object.keys(home?.household.contacts ?? {})"
        />
      </section>
    </div>
  </div>
</template>

<style scoped>
section {
  margin-bottom: 22px;
}
.unseen {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
label.btn:focus-within {
  outline: 2px solid var(--focus);
}
</style>
