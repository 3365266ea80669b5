<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Feed, Home, Op, Plan, Stance, Window } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit } from '@/shared/session/session'
import { percent } from '@/shared/units/format'
import WindowsEditor from '@/shared/ui/fields/WindowsEditor.vue'
import { feedOf, targetName, type Target } from '../model'

/** The selected circuit's stance, by a visible control, and its turns. */
const props = defineProps<{ target: Target | null; home: Home; plan: Plan }>()
const emit = defineEmits<{ stance: [Stance | 'off'] }>()

const STANCES: { value: Stance | 'off'; text: string; key: string }[] = [
  { value: 'keep_on', text: 'Keep on', key: 'k' },
  { value: 'turns', text: 'Take turns', key: 't' },
  { value: 'off', text: 'Leave off', key: 'x' },
]
const feed = computed(() => (props.target ? feedOf(props.plan, props.target) : null))
const now = computed(() => feed.value?.stance ?? 'off')
const name = computed(() => (props.target ? targetName(props.home, props.target) : ''))
const turning = ref(false)

function set<K extends 'windows' | 'share' | 'turn_by' | 'above'>(field: K, value: Feed[K], what: string) {
  if (!feed.value) return
  const ops: Op[] = [{ doc: props.plan.id, op: 'replace', path: `/feeds/${escape(feed.value.id)}/${field}`, value }]
  edit(`${name.value}: ${what}`, ops)
}
const BY = { clock: 'by the clock', charge: 'above a charge', surplus: 'on spare solar power' } as const
const short = computed(() => {
  const f = feed.value
  if (!f || f.turn_by === 'surplus') return 'Turns on spare solar power'
  if (f.turn_by === 'charge') return `Turns above ${percent(f.above)}`
  return f.windows.length ? 'Turns by the clock' : `Turns ${percent(f.share)} of the time`
})
const windows = computed({
  get: () => feed.value?.windows ?? [],
  set: (value: Window[]) => set('windows', value, 'turns by the clock'),
})
</script>

<template>
  <div class="control" aria-live="polite">
    <template v-if="target">
      <strong class="name">{{ name }}</strong>
      <div class="choices" role="group" :aria-label="`Stance of ${name}`">
        <el-button
          v-for="s in STANCES"
          :key="s.value"
          :class="[s.value, { now: now === s.value }]"
          :aria-pressed="now === s.value"
          @click="emit('stance', s.value)"
        >
          {{ s.text }} <kbd>{{ s.key }}</kbd>
        </el-button>
      </div>
      <el-button v-if="feed?.stance === 'turns'" class="link small turn" @click="turning = true">
        {{ short }}, change
      </el-button>
    </template>
    <p v-else class="soft small">
      Solid edge: keeps on. Hatched: takes turns. No edge: left off.
      <span class="by-key">Select one, then <kbd>k</kbd> <kbd>t</kbd> <kbd>x</kbd>, or drag it.</span>
    </p>
    <el-dialog v-if="feed" v-model="turning" :title="`Turns of ${name}`" width="460">
      <div class="segments" role="group" aria-label="Take turns by">
        <el-button
          v-for="(text, by) in BY"
          :key="by"
          :aria-pressed="feed.turn_by === by"
          @click="set('turn_by', by, `turns ${text}`)"
        >
          {{ text }}
        </el-button>
      </div>
      <template v-if="feed.turn_by === 'charge'">
        <p>On while the charge is above this. It switches on again five points higher.</p>
        <el-slider
          :model-value="Math.round(feed.above * 100)"
          :min="10"
          :max="95"
          :step="5"
          show-input
          :format-tooltip="(v: number) => `${v}%`"
          aria-label="Charge (%)"
          @change="(v: number | number[]) => set('above', Number(v) / 100, `turns above ${v}%`)"
        />
        <p class="soft small">
          A panel that sheds does this by itself. Otherwise someone awake reads the gauge and switches. See Power source
          for the time that takes.
        </p>
      </template>
      <p v-else-if="feed.turn_by === 'surplus'">
        On from 95% charge while solar power exceeds the other loads, so it uses energy that would be lost. It switches
        off below 90%, or when a cloud comes.
      </p>
      <template v-if="feed.turn_by === 'clock'">
        <p>By the clock: on in these hours, off otherwise.</p>
        <WindowsEditor v-model="windows" />
      </template>
      <template v-if="feed.turn_by === 'clock' && !windows.length">
        <p>Without hours, a share of the time, which the person who switches spreads over the day:</p>
        <el-slider
          :model-value="feed.share * 100"
          :min="10"
          :max="90"
          :step="10"
          :format-tooltip="(v: number) => `${v}%`"
          aria-label="Share"
          @change="(v: number | number[]) => set('share', Number(v) / 100, `turns ${v}% of the time`)"
        />
      </template>
      <p class="soft small">
        A thermostat catches up after time off: halving its time saves about a tenth, not half (planning default).
      </p>
    </el-dialog>
  </div>
</template>

<style scoped>
.control {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
  min-height: 62px;
  padding-top: 8px;
}
.control p {
  margin: 0;
}
.name {
  flex: 1 0 100%;
  font: 650 15px var(--head);
}
.choices {
  display: flex;
  gap: 5px;
}
.choices button {
  padding: 3px 10px 3px 16px;
  border: 1px solid var(--line-strong);
  border-radius: 7px;
  background: var(--sheet);
}
.choices .keep_on {
  background: linear-gradient(90deg, var(--stored) 7px, var(--sheet) 7px);
}
.choices .turns {
  background: linear-gradient(90deg, transparent 7px, var(--sheet) 7px), var(--hatch);
}
.choices .off {
  padding-left: 10px;
}
.choices .now {
  box-shadow: 0 0 0 2px var(--stored-ink);
  font-weight: 700;
}
@media (max-width: 760px) {
  .control {
    position: sticky;
    bottom: 48px;
    z-index: 10;
    margin-inline: -14px;
    padding: 8px 14px 10px;
    background: var(--paper);
    border-top: 1px solid var(--line);
  }
  .choices button,
  .turn {
    min-height: 44px;
  }
}
</style>
