<script setup lang="ts">
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { ReadView, SheetView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { fieldWords, readText, type Kind } from '../model'
import PhotoReader from '@/shared/ui/PhotoReader.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'

/** A pasted data sheet, read: each value with the words it came from, to be taken or not. Nothing is taken unasked. */
const props = defineProps<{ kind: Kind }>()
const emit = defineEmits<{ take: [Record<string, string>] }>()
const { state } = useSession()
const text = ref('')
const sheet = ref<SheetView | null>(null)
const chosen = ref<Record<string, boolean>>({})
const problem = ref('')
const pages = ref('')
const busy = ref(false)
const many = computed(() => Object.values(chosen.value).filter(Boolean).length)
const nameOf = (field: string) => {
  const { words, unit } = fieldWords(field)
  return unit ? `${words}, ${unit}` : words
}

/** A file's text comes into the box first, where it can be looked at and cut. */
async function open(file: File) {
  busy.value = true
  problem.value = pages.value = ''
  sheet.value = null
  try {
    const params = { path: { home_id: state.value?.id ?? '' }, query: { name: file.name } }
    const data = await file.arrayBuffer()
    const headers = { 'content-type': 'application/octet-stream' }
    const told = await answer(
      api.POST('/api/homes/{home_id}/catalogue/text', { params, headers, body: '', bodySerializer: () => data }),
    )
    text.value = told.text
    if (told.of > 1) pages.value = `${told.pages.length > 1 ? 'Pages' : 'Page'} ${told.pages.join(', ')} of ${told.of}`
    await read()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
  busy.value = false
}
async function read() {
  busy.value = true
  problem.value = ''
  try {
    const params = { path: { home_id: state.value?.id ?? '' } }
    const body = { kind: props.kind, text: text.value }
    sheet.value = await answer(api.POST('/api/homes/{home_id}/catalogue/read', { params, body }))
    chosen.value = Object.fromEntries(sheet.value.found.map((f) => [f.field, !f.ask]))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
  busy.value = false
}
function take(found: ReadView[]) {
  emit('take', Object.fromEntries(found.filter((f) => chosen.value[f.field]).map((f) => [f.field, f.value])))
  sheet.value = null
  text.value = pages.value = ''
}
</script>

<template>
  <section aria-label="From a data sheet">
    <label for="sheet">Paste a data sheet, a manual’s page or a shop’s table</label>
    <el-input id="sheet" v-model="text" type="textarea" :rows="3" placeholder="Capacity: 2,048 Wh …" />
    <el-button class="btn tiny" :disabled="!text.trim() || busy" @click="read">
      {{ busy ? 'Reading…' : 'Read it' }}
    </el-button>
    <FileButton accept=".pdf,.txt,.md,.csv,.tsv" tiny @file="open">From a PDF or text file</FileButton>
    <PhotoReader
      what="equipment"
      :kind="kind"
      :name-of="(field, value) => `${fieldWords(field).words} ${readText(field, value)}`"
      @take="(values) => emit('take', values)"
    />
    <span v-if="pages" class="soft small">{{ pages }}</span>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <template v-if="sheet">
      <p v-if="sheet.note" class="small" role="status">{{ sheet.note }}</p>
      <p v-if="!sheet.found.length" role="status">Imbuto couldn’t read anything in it. Enter the figures below.</p>
      <ul v-else>
        <li v-for="f in sheet.found" :key="f.field">
          <el-checkbox v-model="chosen[f.field]"
            ><span class="what">{{ fieldWords(f.field).words }}</span>
            <b data-figure>{{ readText(f.field, f.value) }}</b></el-checkbox
          >
          <q class="soft small">{{ f.words }}</q>
          <em v-if="f.ask" class="ask small">{{ f.ask }}</em>
        </li>
      </ul>
      <p v-if="sheet.left.length" class="soft small">
        Not used: <q v-for="(l, i) in sheet.left" :key="i">{{ l }}</q>
      </p>
      <p v-if="sheet.missing.length" class="small">
        Still missing: {{ sheet.missing.map(nameOf).join(' · ') }}. Fields you leave empty count as not listed.
      </p>
      <el-button v-if="sheet.found.length" class="btn strong" :disabled="!many" @click="take(sheet.found)">
        Take {{ many }} {{ many === 1 ? 'value' : 'values' }}
      </el-button>
    </template>
  </section>
</template>

<style scoped>
section {
  margin-bottom: 14px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--line);
}
label.btn {
  margin: 0 8px;
}
.el-textarea {
  width: 100%;
}
ul {
  max-height: 34vh;
  margin: 8px 0;
  padding: 0;
  overflow: auto;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 220px 1fr;
  gap: 0 12px;
  align-items: baseline;
  padding: 4px 0;
  border-top: 1px solid var(--line);
}
.ask {
  grid-column: 2;
  color: var(--dark);
}
q + q {
  margin-left: 6px;
}
p {
  margin: 6px 0;
}
@media (max-width: 760px) {
  li {
    grid-template-columns: 1fr;
  }
  .ask {
    grid-column: 1;
  }
}
</style>
