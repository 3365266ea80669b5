<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Key, LiveView } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit, noteGauge, useSession } from '@/shared/session/session'
import { clock, kwh, number, percent } from '@/shared/units/format'
import PhotoReader from '@/shared/ui/PhotoReader.vue'
import Fig from '@/shared/ui/Fig.vue'

/** One line takes a gauge; those noted, newest first, with what the plan draws beside them. */
const props = defineProps<{
  notes: Record<string, NonNullable<NonNullable<LiveView['live']>['notes']>[string]>
  /** Where they stand in the home. */
  path: '/live' | `/lived/${Key}`
  stores: LiveView['stores']
  sources: { id: string }[]
  nameOf: (id: string) => string
  now: () => string
}>()
const { waiting } = useSession()
const busy = ref(false)
const line = ref('')
const whose = ref('')
const later = ref(false)
async function note() {
  const text = line.value.trim()
  if (!text) return
  busy.value = true
  const how = await noteGauge({ text, source: whose.value || props.sources[0]?.id || null, at: props.now() })
  busy.value = false
  later.value = how === 'later'
  if (how !== 'refused') line.value = ''
}
const pending = computed(() => waiting.value.flatMap((w) => (w.gauge ? [{ id: w.edit_id, ...w.gauge }] : [])))
const lines = computed(() => Object.values(props.notes).sort((a, b) => b.at.localeCompare(a.at)))
const planned = computed(() => Object.fromEntries(props.stores.flatMap((s) => s.lines).map((x) => [x.note, x])))
const APART = {
  '': '',
  more: ': something else is on, or starting',
  less: ': something planned is off or resting',
}
const asked = computed(() => props.stores.flatMap((s) => s.asks))
/** Somebody looked again: the line is right as it stands. */
function keep(id: string) {
  edit('Reading confirmed', [{ doc: 'home', op: 'add', path: `${props.path}/notes/${escape(id)}/sure`, value: true }])
}
function correct(id: string, charge: number) {
  edit('Reading corrected', [
    { doc: 'home', op: 'replace', path: `${props.path}/notes/${escape(id)}/charge`, value: charge },
  ])
}
function drop(id: string) {
  edit('Reading undone', [{ doc: 'home', op: 'remove', path: `${props.path}/notes/${escape(id)}` }])
}
</script>

<template>
  <form class="line" @submit.prevent="note">
    <el-select v-if="sources.length > 1" v-model="whose" aria-label="Station" :placeholder="nameOf(sources[0]!.id)">
      <el-option v-for="s in sources" :key="s.id" :value="s.id" :label="nameOf(s.id)" />
    </el-select>
    <el-input
      v-model="line"
      aria-label="Gauge line"
      placeholder="64 % 310 W in 120 W 9:20 pm, or: off"
      inputmode="text"
      autocomplete="off"
      maxlength="200"
    />
    <el-button native-type="submit" class="btn strong" :disabled="busy || !line.trim()">Note</el-button>
    <PhotoReader what="gauge" @take="(_, said) => (line = said)" />
  </form>
  <ul v-if="asked.length" class="asked" role="alert">
    <li v-for="q in asked" :key="q.note" data-test="line-question">
      {{ q.says }}
      <span class="answers">
        <el-button v-if="q.instead != null" class="btn small" @click="correct(q.note, q.instead)">
          Yes, {{ percent(q.instead) }}
        </el-button>
        <el-button v-if="q.right" class="btn small" @click="keep(q.note)">
          {{ q.instead != null ? 'No, it is right' : 'Yes, it is right' }}
        </el-button>
        <el-button class="link small" @click="drop(q.note)">Undo the line</el-button>
      </span>
    </li>
  </ul>
  <ul>
    <li v-for="p in pending" :key="p.id" class="soft">
      <b>{{ clock(p.at) }}</b> {{ p.text }} · waits here until the server responds
    </li>
    <li v-for="n in lines" :key="n.id">
      <b>{{ clock(n.at) }}</b>
      <template v-if="n.output"> output {{ n.output }}</template>
      <template v-if="n.charge != null">&nbsp;<Fig :text="percent(n.charge)" /></template>
      <template v-if="n.out_w != null">, <Fig :text="`${number(n.out_w)} W`" /> out</template>
      <template v-if="n.in_w != null">, <Fig :text="`${number(n.in_w)} W`" /> in</template>
      <template v-if="n.given_wh != null">, <Fig :text="kwh(n.given_wh)" /> supplied so far</template>
      <small v-if="sources.length > 1" class="soft">&nbsp;· {{ nameOf(n.source) }}</small>
      <small v-if="n.who" class="soft">&nbsp;· {{ n.who }}</small>
      <small v-if="planned[n.id]" class="soft">
        · planned <Fig :text="`${number(planned[n.id]!.planned_w)} W`" />{{ APART[planned[n.id]!.apart] }}
      </small>
      <el-button class="link small" :aria-label="`Undo ${n.said}`" @click="drop(n.id)">undo</el-button>
    </li>
  </ul>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.line .el-input {
  flex: 1 1 220px;
  font-size: 17px;
}
ul {
  margin: 8px 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
.asked {
  padding: 8px 12px;
  border: 2px solid var(--ink);
  border-radius: 8px;
}
.asked li:last-child {
  border-bottom: 0;
}
.answers {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 6px;
}
li .link {
  margin-left: 8px;
}
</style>
