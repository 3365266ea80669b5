<script setup lang="ts">
import { computed, ref } from 'vue'
import SourceHead from '@/features/source/SourceHead.vue'
import { answer, api } from '@/shared/api/client'
import { escape } from '@/shared/session/patch'
import { act, edit, useSession } from '@/shared/session/session'
import { money } from '@/shared/units/format'
import { useCatalogue } from './useCatalogue'
import EntryDialog from './components/EntryDialog.vue'
import { fieldWords, KIND_WORDS, KINDS, valueText, type Entry, type Kind } from './model'
import FileButton from '@/shared/ui/fields/FileButton.vue'

/** Everything there is to plan with: what ships, made up, and the home's own, typed from labels or taken in as a table. */
const { state } = useSession()
const kind = ref<Kind>('stations')
const open = ref<Entry | null>(null)
const query = useCatalogue()
const view = computed(() => query.data.value)
const notes = computed(() => view.value?.notes[kind.value] ?? [])
const own = computed(() => new Set(view.value?.own[kind.value] ?? []))
const entries = computed(() => {
  const all = Object.values((view.value?.catalogue[kind.value] ?? {}) as unknown as Record<string, Entry>)
  return all.sort((a, b) => Number(own.value.has(String(b.id))) - Number(own.value.has(String(a.id))))
})
const words = computed(() => KIND_WORDS[kind.value])
const files = computed(() => `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/catalogue`)

function remove(entry: Entry) {
  const path = `/catalogue/${kind.value}/${escape(String(entry.id))}` as const
  edit(`Equipment removed: ${String(entry.name)}`, [{ doc: 'home', op: 'remove', path }])
}
async function send(name: string, body: string | ArrayBuffer): Promise<boolean> {
  return act((home, named) =>
    answer(
      api.POST('/api/homes/{home_id}/catalogue', {
        params: {
          path: { home_id: home },
          query: { name, kind: kind.value, edit_id: named.edit_id, ...named.judge },
        },
        body: '',
        bodySerializer: () => body,
        headers: { 'content-type': 'application/octet-stream' },
      }),
    ),
  )
}
async function file(picked: File) {
  await send(picked.name, await picked.arrayBuffer())
}
async function save(entry: Entry): Promise<boolean> {
  const done = await send('entry.json', JSON.stringify({ [kind.value]: { [String(entry.id)]: entry } }))
  if (done) open.value = null
  return done
}
</script>

<template>
  <div class="place">
    <SourceHead>
      <el-button class="btn strong" @click="open = {}">Add from a label</el-button>
      <FileButton accept=".csv,.json" @file="file">Import CSV or JSON</FileButton>
      <a class="btn" :href="`${files}/${kind}.csv`" download>Export CSV</a>
      <a class="btn" :href="`${files}/export.json`" download>All as JSON</a>
    </SourceHead>
    <nav class="segments" aria-label="Kinds of equipment">
      <el-button v-for="k in KINDS" :key="k" :aria-pressed="k === kind" @click="kind = k">{{
        KIND_WORDS[k].many
      }}</el-button>
    </nav>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="query.isPending.value" class="soft" role="status">Loading…</p>
    <div class="scroll">
      <table :aria-label="words.many">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th v-for="c in words.columns" :key="c" scope="col">{{ fieldWords(c).words }}</th>
            <th scope="col"><span class="sr">What to do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="e in entries" :key="String(e.id)" :class="{ own: own.has(String(e.id)) }">
            <th scope="row">
              {{ e.name }} <small class="soft">{{ own.has(String(e.id)) ? 'yours' : 'made up, for trying' }}</small>
            </th>
            <td v-for="c in words.columns" :key="c">
              <span :data-figure="/\d/.test(valueText(c, e[c])) && fieldWords(c).unit ? '' : undefined">{{
                c === 'price' ? money(String(e[c]), String(e.currency)) : valueText(c, e[c])
              }}</span>
            </td>
            <td class="do">
              <el-button v-if="own.has(String(e.id))" class="link" @click="open = e">change</el-button>
              <el-button v-else class="link" @click="open = { ...e, id: '', name: '' }">Copy and edit</el-button>
              <el-button v-if="own.has(String(e.id))" class="link" @click="remove(e)">remove</el-button>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">
        Enter the figures from the label and the manual. Fields you leave empty count as not listed, so Imbuto uses a
        careful default. An imported table needs the same columns as an exported one.
      </p>
    </div>
    <EntryDialog
      v-if="open"
      :kind="words.one"
      :of="kind"
      :notes="notes"
      :entry="open"
      :taken="entries.map((e) => String(e.id))"
      :save="save"
      @close="open = null"
    />
  </div>
</template>

<style scoped>
.scroll {
  flex: 1;
}
table {
  width: 100%;
  border-collapse: collapse;
}
thead th {
  position: sticky;
  top: 0;
  padding: 2px 10px 6px 0;
  background: var(--paper);
  color: var(--soft);
  font-weight: 400;
  font-size: 12.5px;
  text-align: left;
}
td,
tbody th {
  padding: 6px 10px 6px 0;
  border-top: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
}
tbody th small {
  display: block;
}
.own th {
  font-weight: 650;
}
.do {
  text-align: right;
  white-space: nowrap;
}
.do .link {
  margin-left: 12px;
}
@media (max-width: 760px) {
  .scroll {
    overflow-x: auto;
  }
}
label.btn:focus-within {
  outline: 2px solid var(--focus);
}
</style>
