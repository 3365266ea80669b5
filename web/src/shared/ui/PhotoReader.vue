<script setup lang="ts">
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { PhotoView, SheetKind } from '@/shared/api/types'
import { asFile } from '@/shared/api/file'
import { uniqueId } from '@/shared/ids'
import { act, useSession } from '@/shared/session/session'
import FileButton from './fields/FileButton.vue'

/**
 * A photographed label or display, read. Each value stands beside its words as they are in the picture. What the label
 * itself confirms is ticked; everything else a person ticks after looking at the picture. Nothing is taken unasked.
 */
const props = defineProps<{
  what: 'equipment' | 'load' | 'gauge'
  kind?: SheetKind
  /** Whose label it is, for the picture that is kept. */
  of?: string
  /** A value in words, where its field has a name. */
  nameOf?: (field: string, value: string) => string
}>()
const emit = defineEmits<{ take: [values: Record<string, string>, line: string] }>()
const { state, pair } = useSession()
const seen = ref<PhotoView | null>(null)
const chosen = ref<boolean[]>([])
const problem = ref('')
const busy = ref(false)
const whole = ref(false)
const keeps = ref(false)
const many = computed(() => chosen.value.filter(Boolean).length)
const TITLE = { equipment: 'Photograph a label', load: 'Photograph a label', gauge: 'Photograph the display' }

async function open(file: File) {
  busy.value = true
  problem.value = ''
  seen.value = null
  try {
    const params = {
      path: { home_id: state.value?.id ?? '' },
      query: { name: file.name, what: props.what, ...(props.kind ? { kind: props.kind } : {}) },
    }
    const data = await file.arrayBuffer()
    const headers = { 'content-type': 'application/octet-stream' }
    seen.value = await answer(
      api.POST('/api/homes/{home_id}/photograph', { params, headers, body: '', bodySerializer: () => data }),
    )
    chosen.value = seen.value.values.map((v) => !!v.confirmed && !v.ask)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
  busy.value = false
}
/** The part of the picture where a value's words stand, with a little around it. */
function crop(v: PhotoView['values'][number]): string {
  const p = seen.value
  if (!p || !v.box) return ''
  const [w, h] = [p.width, p.height]
  const pad = v.box.height * h * 0.35
  const x = Math.max(0, v.box.left * w - pad)
  const y = Math.max(0, v.box.top * h - pad)
  return `${x} ${y} ${Math.min(w - x, v.box.width * w + 2 * pad)} ${Math.min(h - y, v.box.height * h + 2 * pad)}`
}
/** The picture as it was read, smaller and without where it was taken, as an entry of the binder. */
async function keepPicture(picture: string) {
  const bytes = Uint8Array.from(atob(picture.slice(picture.indexOf(',') + 1)), (c) => c.charCodeAt(0))
  const media = /^data:([^;]+)/.exec(picture)?.[1] ?? 'image/jpeg'
  const file = new File([bytes], `label.${media.endsWith('png') ? 'png' : 'jpg'}`, { type: media })
  const id = uniqueId()
  const query = { name: file.name, edit_id: id, photo_of: props.of ?? '', ...pair.value }
  await act((home_id) =>
    answer(
      api.POST('/api/homes/{home_id}/binder/{entry_id}/file', {
        params: { path: { home_id, entry_id: `label-${id}` }, query },
        ...asFile(file),
      }),
    ),
  )
}
function take() {
  if (keeps.value && seen.value) void keepPicture(seen.value.picture)
  const values = (seen.value?.values ?? []).filter((_, i) => chosen.value[i])
  emit('take', Object.fromEntries(values.map((v) => [v.field, v.value])), values.map((v) => v.value).join(' '))
  seen.value = null
}
</script>

<template>
  <div class="photo">
    <FileButton accept="image/jpeg,image/png" tiny :disabled="busy" @file="open">{{
      busy ? 'Reading the picture…' : TITLE[what]
    }}</FileButton>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <section v-if="seen" aria-label="From a photo">
      <p v-if="!seen.values.length" role="status">
        Imbuto couldn’t read a figure in this picture. Photograph the label straight from the front and close up, or
        type what it says.
      </p>
      <template v-else>
        <p class="soft small">
          {{
            seen.values.some((v) => v.confirmed)
              ? 'Ticked: another figure on the label says the same. Compare every other one with its picture, then tick it.'
              : 'Compare each value with its picture, then tick it.'
          }}
        </p>
        <ul>
          <li v-for="(v, i) in seen.values" :key="i">
            <el-checkbox v-model="chosen[i]">{{ nameOf ? nameOf(v.field, v.value) : v.value }}</el-checkbox>
            <svg
              v-if="v.box"
              :viewBox="crop(v)"
              role="img"
              :aria-label="`In the picture: ${v.words}`"
              preserveAspectRatio="xMinYMid meet"
            >
              <image :href="seen.picture" :width="seen.width" :height="seen.height" />
            </svg>
            <small class="soft">{{ v.words }}</small>
            <small v-if="v.confirmed" class="soft">Confirmed by {{ v.confirmed }}</small>
            <em v-if="v.ask" class="small">{{ v.ask }}</em>
          </li>
        </ul>
        <p v-if="seen.left.length" class="soft small">
          Not used: <q v-for="(l, i) in seen.left" :key="i">{{ l }}</q>
        </p>
        <div class="acts">
          <el-button class="btn strong" :disabled="!many" @click="take">
            {{ many === 1 ? 'Take 1 value' : `Take ${many} values` }}
          </el-button>
          <el-button class="btn" @click="seen = null">Cancel</el-button>
          <el-button class="link small" :aria-expanded="whole" @click="whole = !whole">{{
            whole ? 'Hide the picture' : 'Show the whole picture'
          }}</el-button>
        </div>
        <el-checkbox v-if="what !== 'gauge'" v-model="keeps">Keep the picture on file</el-checkbox>
        <img v-if="whole" :src="seen.picture" alt="The photographed label" />
      </template>
    </section>
  </div>
</template>

<style scoped>
.photo {
  display: contents;
}
section,
.photo > p {
  flex-basis: 100%;
}
section {
  margin: 8px 0;
  padding: 10px 12px;
  border: 1px solid var(--line-strong);
  border-radius: 9px;
}
ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(130px, 1fr) minmax(0, 1.6fr);
  gap: 0 12px;
  align-items: center;
  padding: 5px 0;
  border-top: 1px solid var(--line);
}
li > small,
li > em {
  grid-column: 2;
}
svg {
  width: 100%;
  height: 34px;
}
q + q {
  margin-left: 6px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
img {
  display: block;
  max-width: 100%;
  margin-top: 8px;
}
</style>
