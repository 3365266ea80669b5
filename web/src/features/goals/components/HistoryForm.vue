<script setup lang="ts">
import { computed } from 'vue'
import type { GoalsView, Outage } from '@/shared/api/types'
import { choose, edit, useSession } from '@/shared/session/session'
import { hoursText, number, parseNumber } from '@/shared/units/format'
import FoldSection from '@/shared/ui/FoldSection.vue'
import Fig from '@/shared/ui/Fig.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** Outages lived through, and those worth planning for that follow from them. */
const props = defineProps<{ goals: GoalsView }>()
const { home, problem } = useSession()
const history = computed(() => home.value?.household.history)
type Field = 'a_year' | 'shortest_h' | 'usual_h' | 'longest_h'
const FIELDS: [Field, string, string][] = [
  ['a_year', 'how often', 'a year'],
  ['shortest_h', 'the shortest', 'h'],
  ['usual_h', 'the usual', 'h'],
  ['longest_h', 'the longest', 'h'],
]
const said = computed(() => {
  const h = history.value
  if (!h || (!h.a_year && !h.usual_h && !h.longest_h)) return 'not entered'
  const usual = h.usual_h ? `, usually ${hoursText(h.usual_h)}` : ''
  return h.a_year ? `${number(h.a_year, 1)} per year${usual}` : `longest ${hoursText(h.longest_h)}`
})
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const proposed = computed(() => props.goals.proposed as unknown as Outage[])

function set(field: Field, typed: string) {
  const text = typed.replace(/\b(a year|hours?|h)\b/g, '').trim() || '0'
  const parsed = parseNumber(text)
  if (!parsed.ok || parsed.value < 0) {
    problem.value = `Outages lived through: ${parsed.ok ? 'it cannot be below 0.' : parsed.why}`
    return
  }
  edit(`Outages lived through: ${parsed.value}`, [
    { doc: 'home', op: 'replace', path: `/household/history/${field}`, value: parsed.value },
  ])
}
function month(m: number) {
  const months = history.value?.months ?? []
  const value = months.includes(m) ? months.filter((x) => x !== m) : [...months, m].sort((a, b) => a - b)
  edit(`Outages come in: ${value.map((x) => MONTHS[x - 1]).join(', ') || 'any month'}`, [
    { doc: 'home', op: 'replace', path: '/household/history/months', value },
  ])
}
function add(outage: Outage) {
  edit(`New outage: ${outage.name}`, [{ doc: outage.id, op: 'add', path: '', kind: 'outage', value: outage }])
  void choose({ outage: outage.id })
}
</script>

<template>
  <section v-if="history">
    <h2>Outages lived through</h2>
    <FoldSection id="goals/history" title="How often and how long" :holds="said">
      <div class="rows">
        <label v-for="[field, text, unit] in FIELDS" :key="field"
          >{{ text }}
          <KeptInput :value="history[field] || ''" :placeholder="unit" inputmode="decimal" @keep="set(field, $event)" />
          <span class="soft">{{ unit }}</span>
        </label>
      </div>
      <div class="months" role="group" aria-label="Months with most outages">
        <el-button
          v-for="(m, i) in MONTHS"
          :key="m"
          class="btn tiny"
          :class="{ strong: history.months.includes(i + 1) }"
          :aria-pressed="history.months.includes(i + 1)"
          @click="month(i + 1)"
        >
          {{ m }}
        </el-button>
      </div>
    </FoldSection>
    <p v-for="o in proposed" :key="o.id" class="row">
      <span
        ><b>{{ o.name }}</b
        >, <Fig :text="hoursText(o.hours)" /><template v-if="o.start_charge < 1">, starting half full</template></span
      >
      <el-button class="btn tiny" @click="add(o)">Plan for it</el-button>
    </p>
    <p v-if="!proposed.length && !history.usual_h" class="soft small">
      Enter how long outages usually last here. Imbuto then proposes outages to plan for.
    </p>
  </section>
</template>

<style scoped>
.rows {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  margin: 6px 0;
  color: var(--soft);
}
.rows label {
  display: flex;
  gap: 6px;
  align-items: center;
}
.el-input {
  width: 70px;
}
.months {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.row {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  margin: 6px 0 0;
}
</style>
