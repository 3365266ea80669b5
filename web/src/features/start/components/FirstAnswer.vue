<script setup lang="ts">
import { computed, ref } from 'vue'
import type { FirstPreview } from '@/shared/api/types'
import Fig from '@/shared/ui/Fig.vue'
import { hoursText, money } from '@/shared/units/format'
import { useFirstAnswers } from '../answers'

/** The answer so far: a sentence, a bar for each load on one clock, free steps, what to measure, what to buy. */
const props = defineProps<{ said: FirstPreview | undefined; problems: string[]; busy: boolean }>()
const first = useFirstAnswers()
const emit = defineEmits<{ keep: [card: boolean] }>()
const open = ref(false)
const at = (h: number) => `${Math.min(100, (100 * h) / (props.said?.horizon_h ?? 1))}%`
/** Marks with room between them. */
const ticks = computed(() => {
  const room = (props.said?.horizon_h ?? 0) / 5
  const kept: FirstPreview['ticks'] = []
  for (const t of props.said?.ticks ?? []) if (!kept.length || t.h - kept[kept.length - 1]!.h >= room) kept.push(t)
  return kept
})
const count = computed(() => props.said?.count_on_h ?? null)
const blocked = computed(() => props.problems.length > 0 || !first.picks.length || props.busy)
const spoken = (spans: { from_h: number; to_h: number }[]) =>
  spans.length ? spans.map((s) => `on from hour ${s.from_h.toFixed(1)} to ${s.to_h.toFixed(1)}`).join(', ') : 'off'
const hours = (low: number | null, end: number) => (low === null ? `more than ${hoursText(end)}` : hoursText(low))
function choose(p: { station: string; modules: number }) {
  first.buy.station = p.station
  first.buy.modules = p.modules
}
</script>

<template>
  <aside class="answer" :class="{ open }" aria-label="The answer so far">
    <el-button class="foot" :aria-expanded="open" @click="open = !open">
      <span>{{ said?.said ?? 'Choose what has to keep running.' }}</span>
      <span class="more">{{ open ? 'Back to the questions' : 'Show all' }}</span>
    </el-button>
    <div class="all">
      <p class="setting">{{ said?.setting }}</p>
      <p class="said" aria-live="polite">{{ said?.said ?? 'Choose what has to keep running.' }}</p>
      <ul v-if="problems.length" class="notes" role="alert">
        <li v-for="p in problems" :key="p">{{ p }}</li>
      </ul>
      <template v-if="said && first.picks.length">
        <ul v-if="said.notes.length" class="notes">
          <li v-for="n in said.notes" :key="n">{{ n }}</li>
        </ul>
        <div v-if="said.bars.length" class="bars">
          <div class="clock" aria-hidden="true">
            <span v-for="t in ticks" :key="t.h" :style="{ left: at(t.h) }">{{ t.label }}</span>
          </div>
          <div v-for="b in said.bars" :key="b.name" class="bar-row">
            <span class="name">{{ b.name }}</span>
            <span class="track" role="img" :aria-label="`${b.name}: ${spoken(b.spans)}`">
              <i v-for="s in b.spans" :key="s.from_h" :style="{ left: at(s.from_h), width: at(s.to_h - s.from_h) }" />
              <b v-if="count !== null && count < said.horizon_h" :style="{ left: at(count) }" />
            </span>
          </div>
          <p v-if="count !== null && count < said.horizon_h" class="key">Vertical line: count on power until here</p>
        </div>
        <p v-if="said.assumed" class="soft-on">{{ said.assumed }}</p>
        <template v-if="said.free.length">
          <h2>Free</h2>
          <p v-for="s in said.free" :key="s.label" class="step">
            <Fig class="gain" :text="`+ ${hoursText(s.hours_gained)}`" /> <span>{{ s.label }}</span>
          </p>
        </template>
        <template v-if="said.measure">
          <h2>Then measure</h2>
          <p class="step">
            <Fig class="gain" :text="`± ${hoursText(said.measure.hours_gained / 2)}`" />
            <span>{{ said.measure.label }}</span>
          </p>
        </template>
        <template v-if="said.packages.length && (first.form.have === 'nothing' || !said.reaches)">
          <h2>{{ first.form.have === 'nothing' ? 'Three sizes to choose from' : 'Then buy' }}</h2>
          <component
            :is="first.form.have === 'nothing' ? 'button' : 'div'"
            v-for="p in said.packages"
            :key="`${p.station}-${p.modules}`"
            class="package"
            type="button"
            :aria-pressed="first.form.have === 'nothing' ? p.chosen : undefined"
            @click="choose(p)"
          >
            <Fig class="gain" :text="money(p.price, p.currency)" />
            <span>
              <strong>{{ p.size }}</strong>, such as <em>{{ p.example }}</em> (made up)<template v-if="p.switch"
                >, with a {{ p.switch }} that an electrician fits (work not in the price)</template
              >.
              <template v-if="p.fits"
                >Runs {{ p.runs }}; count on <Fig :text="hours(p.low_hours, p.simulated_h)" />{{
                  p.short_of && `, ${p.short_of}`
                }}.</template
              >
              <template v-else>Too weak for everything at once.</template> {{ p.grows }}
            </span>
          </component>
        </template>
        <template v-if="said.path.length && (first.form.have === 'nothing' || !said.reaches)">
          <h2>Or step by step</h2>
          <p v-for="s in said.path" :key="s.when" class="step">
            <span class="gain"
              >{{ s.when }}<br /><Fig v-if="Number(s.price)" class="small" :text="money(s.price, s.currency)"
            /></span>
            <span>
              {{ s.what }}: count on <Fig :text="hours(s.low_hours, s.simulated_h)" />{{
                s.short_of && `, ${s.short_of}`
              }}. {{ s.kept }}
            </span>
          </p>
        </template>
      </template>
    </div>
    <footer>
      <el-button class="keep" :disabled="blocked" @click="emit('keep', false)">{{
        busy ? 'Keeping the plan…' : 'Keep this plan'
      }}</el-button>
      <el-button class="card" :disabled="blocked" @click="emit('keep', true)">Print my card</el-button>
    </footer>
  </aside>
</template>

<style scoped>
.answer {
  display: flex;
  flex-direction: column;
  height: 100vh;
  padding: 26px 28px 18px;
  background: var(--deep);
  color: var(--on-deep);
}
.all {
  flex: 1;
  overflow: auto;
}
.foot {
  display: none;
}
.setting,
.key,
.soft-on {
  margin: 0;
  color: var(--on-deep-soft);
  font-size: 13px;
}
.said {
  margin: 4px 0 10px;
  font: 650 21px/1.25 var(--head);
}
.notes {
  margin: 0 0 10px;
  padding: 8px 12px 8px 26px;
  border-left: 5px solid var(--gain);
  background: rgb(0 0 0 / 22%);
}
.bars {
  margin-bottom: 8px;
}
.clock {
  position: relative;
  height: 18px;
  margin-left: 130px;
  color: var(--on-deep-soft);
  font-size: 12px;
}
.clock span {
  position: absolute;
  transform: translateX(-50%);
  white-space: nowrap;
}
.clock span:first-child {
  transform: none;
}
.clock span:last-child {
  transform: translateX(-100%);
}
.bar-row {
  display: grid;
  grid-template-columns: 122px 1fr;
  gap: 8px;
  align-items: center;
  min-height: 24px;
  font-size: 13px;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.track {
  position: relative;
  height: 13px;
  border-radius: 3px;
  background: rgb(0 0 0 / 28%);
}
.track i {
  position: absolute;
  top: 0;
  bottom: 0;
  border-radius: 3px;
  background: var(--wash);
}
.track b {
  position: absolute;
  top: -3px;
  bottom: -3px;
  width: 2px;
  background: var(--gain);
}
h2 {
  margin-top: 12px;
  padding-bottom: 3px;
  border-bottom: 1px solid rgb(244 241 234 / 22%);
  font-size: 15px;
}
.step,
.package {
  display: grid;
  grid-template-columns: 96px 1fr;
  gap: 10px;
  width: 100%;
  margin: 0;
  padding: 6px 0;
  border: 0;
  border-bottom: 1px solid rgb(244 241 234 / 22%);
  background: none;
  text-align: left;
}
button.package {
  padding: 6px 8px;
}
.package[aria-pressed='true'] {
  border-left: 5px solid var(--gain);
  background: rgb(0 0 0 / 22%);
}
.gain {
  color: var(--gain);
  font-weight: 650;
}
footer {
  display: flex;
  gap: 10px;
  padding-top: 12px;
}
footer button {
  min-height: 44px;
  padding: 0 18px;
  border-radius: 8px;
  font-weight: 650;
}
.keep {
  background: var(--gain);
  color: var(--deep);
}
.card {
  border: 1px solid var(--on-deep);
}
footer button[disabled] {
  opacity: 0.55;
}
@media (max-width: 900px) {
  .answer {
    position: sticky;
    bottom: 0;
    height: auto;
    max-height: 86vh;
    padding: 6px 14px 10px;
  }
  .foot {
    display: flex;
    gap: 10px;
    align-items: center;
    min-height: 44px;
    font-weight: 650;
    text-align: left;
  }
  .foot span:first-child {
    flex: 1;
    display: -webkit-box;
    overflow: hidden;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
  }
  .open .foot span:first-child {
    visibility: hidden;
  }
  .more {
    color: var(--gain);
    text-decoration: underline;
    white-space: nowrap;
  }
  .answer:not(.open) .all,
  .answer:not(.open) footer {
    display: none;
  }
}
</style>
