<script setup lang="ts">
import { computed } from 'vue'
import type { Away, Op, Plan, Source, Window } from '@/shared/api/types'
import { blanks } from '@/shared/api/blanks'
import { escape } from '@/shared/session/patch'
import { edit } from '@/shared/session/session'
import WindowsEditor from '@/shared/ui/fields/WindowsEditor.vue'

/** Whether a station waits its turn at another one's inlet, and when it is not at home. */
const props = defineProps<{ plan: Plan; source: Source; name: string; names: Record<string, string> }>()
const others = computed(() => Object.values(props.plan.sources).filter((s) => s.id !== props.source.id && !s.after))
const feeds = computed(
  () =>
    Object.values(props.plan.feeds).some((f) => f.source === props.source.id) ||
    Object.values(props.plan.devices).some((d) => d.source === props.source.id),
)
const away = computed(() => props.source.away as Away | null)

function set(field: 'after' | 'away' | 'swap_at', value: unknown, words: string) {
  const op: Op = {
    doc: props.plan.id,
    op: 'replace',
    path: `/sources/${escape(props.source.id)}/${field}`,
    value,
  }
  edit(words, [op])
}
const NONE = 'none' // a select takes an empty value for none chosen
function wait(picked: string) {
  const id = picked === NONE ? null : picked
  set('after', id, id ? `${props.name} waits at the inlet of ${props.names[id] ?? id}` : `${props.name} waits nowhere`)
}
function leave(on: unknown) {
  set('away', on ? structuredClone(blanks.away) : null, `${props.name} ${on ? 'is away at times' : 'stays at home'}`)
}
const change = (part: Partial<Away>, words: string) => away.value && set('away', { ...away.value, ...part }, words)
const windows = computed({
  get: () => away.value?.windows ?? [],
  set: (value: Window[]) => change({ windows: value }, `${props.name} away by the week`),
})
</script>

<template>
  <section class="fields">
    <div v-if="others.length && !feeds && !source.plugged_into" class="row">
      <label for="s-after">Waits at the inlet of</label>
      <el-select id="s-after" :model-value="source.after ?? NONE" @update:model-value="wait">
        <el-option :value="NONE" label="none" />
        <el-option v-for="s in others" :key="s.id" :value="s.id" :label="names[s.id] ?? s.id" />
      </el-select>
    </div>
    <div v-if="source.after" class="form">
      <label for="s-swap">Change at (%)</label>
      <el-input-number
        id="s-swap"
        :model-value="Math.round(source.swap_at * 100)"
        :min="0"
        :max="90"
        :step="5"
        @change="set('swap_at', Number($event) / 100, `Changed over at ${$event}%`)"
      />
    </div>
    <p v-if="source.after" class="soft small">
      When {{ names[source.after] ?? 'that one' }} is down to that charge, someone awake unplugs its cord and plugs in
      this one. Until then it is off and may charge. Never plug in two at once.
    </p>
    <el-checkbox class="check" :model-value="away !== null" @change="leave"
      >not always at home (it drives, or charges elsewhere)</el-checkbox
    >
    <template v-if="away">
      <p class="small">Away every week:</p>
      <WindowsEditor v-model="windows" />
      <div class="form">
        <label for="a-from">In this outage, from hour</label>
        <el-input-number
          id="a-from"
          :model-value="away.from_h"
          :min="0"
          :max="336"
          @change="change({ from_h: Number($event) }, `${name} leaves after ${$event} h`)"
        />
        <label for="a-for">for how many hours</label>
        <el-input-number
          id="a-for"
          :model-value="away.for_h"
          :min="0"
          :max="336"
          @change="change({ for_h: Number($event) }, `${name} away for ${$event} h`)"
        />
        <label for="a-back">Comes back with (%)</label>
        <el-input-number
          id="a-back"
          :model-value="Math.round(away.back_with * 100)"
          :min="0"
          :max="100"
          :step="5"
          @change="change({ back_with: Number($event) / 100 }, `${name} comes back with ${$event}%`)"
        />
      </div>
      <p class="soft small">
        Its loads are without power while it is away, and its hours end the first time it leaves.
      </p>
    </template>
  </section>
</template>

<style scoped>
section {
  margin: 12px 0;
}
.row {
  display: grid;
  gap: 2px;
  color: var(--soft);
  font-size: 13px;
}
.check {
  display: flex;
  gap: 7px;
  align-items: baseline;
  margin-top: 7px;
  font-size: 13px;
}
.form {
  grid-template-columns: minmax(0, 1fr) 124px;
  margin-top: 6px;
}
.form :deep(.el-input-number) {
  width: 124px;
}
p {
  margin: 4px 0;
}
</style>
