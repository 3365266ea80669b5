<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import type { Typical } from '@/shared/api/types'
import { parseNumber, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import Choice from '@/shared/ui/fields/Choice.vue'

/** The first two minutes: three questions, no account, no panel. */
const router = useRouter()
const client = useQueryClient()
const typical = useQuery({ queryKey: ['typical'], queryFn: () => answer(api.GET('/api/typical')), staleTime: Infinity })
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'
const zones = [...new Set([zone, ...Intl.supportedValuesOf('timeZone'), 'UTC'])]
const form = reactive({
  name: 'My home',
  volts: 120 as 120 | 230,
  time_zone: zone,
  place: '',
  currency: 'USD',
  climate: 'mild' as 'mild' | 'cold_winter' | 'hot_summer',
  hours: 12,
})
/** What is there already: nothing, or a power station with what its label says. */
const has = ref<'nothing' | 'station'>('nothing')
const own = reactive({ name: 'My power station', nominal_wh: '', continuous_w: '', outlets: '' })
const picks = reactive<Record<string, number>>({ fridge: 1, router: 1, phones: 1, lights: 2 })
const problem = ref('')
const busy = ref(false)

const groups = computed(() => {
  const found = new Map<string, Typical[]>()
  for (const row of (typical.data.value ?? []).filter((t) => t.first))
    found.set(row.group, [...(found.get(row.group) ?? []), row])
  return [...found]
})
const chosen = computed(() => Object.values(picks).reduce((a, b) => a + b, 0))
const LENGTHS = [
  { hours: 4, text: 'an evening' },
  { hours: 12, text: 'a night' },
  { hours: 24, text: 'a day' },
  { hours: 72, text: 'three days' },
  { hours: 168, text: 'a week' },
]

function setVolts(volts: 120 | 230) {
  form.volts = volts
  form.currency = volts === 230 ? 'EUR' : 'USD'
}
function count(id: string, by: number) {
  picks[id] = Math.min(20, Math.max(0, (picks[id] ?? 0) + by))
}
/** The station as it is sent, or every field that is wrong, in a sentence. */
function ownBox() {
  const stored = parseNumber(own.nominal_wh)
  const watt = parseNumber(own.continuous_w)
  const outlets = parseNumber(own.outlets || '0')
  const wrong = [
    ...(stored.ok && stored.value >= 10 ? [] : ['Stored: its Wh, such as 1,024.']),
    ...(watt.ok && watt.value >= 10 ? [] : ['Output: the W it gives for long, such as 1,000.']),
    ...(outlets.ok && Number.isInteger(outlets.value) ? [] : ['Outlets: a whole number, or nothing.']),
  ]
  if (!stored.ok || !watt.ok || !outlets.ok || wrong.length) return wrong.join(' ')
  return {
    name: own.name.trim() || 'My power station',
    nominal_wh: stored.value,
    continuous_w: watt.value,
    outlets: outlets.value,
  }
}
async function pour() {
  problem.value = ''
  const box = has.value === 'station' ? ownBox() : null
  if (typeof box === 'string') {
    problem.value = box
    return
  }
  busy.value = true
  try {
    const body = { ...form, own: box, picks: Object.fromEntries(Object.entries(picks).filter(([, n]) => n > 0)) }
    const made = await answer(api.POST('/api/homes', { body }))
    await client.invalidateQueries({ queryKey: ['homes'] })
    await router.push(`/home/${made.id}/hours`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main class="start">
    <header>
      <RouterLink to="/" class="soft">All homes</RouterLink>
      <h1>Four questions, then hours</h1>
      <p class="lead">Typical figures to begin with, each shown as a guess. You measure later what matters most.</p>
    </header>
    <form novalidate @submit.prevent="pour">
      <fieldset>
        <legend>1 · Where?</legend>
        <div class="row">
          <label>Name <el-input v-model="form.name" maxlength="80" required /></label>
          <label>Town <el-input v-model="form.place" maxlength="200" placeholder="by the time zone" /></label>
          <div class="either" role="group" aria-label="Supply">
            <el-button :aria-pressed="form.volts === 120" @click="setVolts(120)">120/240 V</el-button>
            <el-button :aria-pressed="form.volts === 230" @click="setVolts(230)">230 V</el-button>
          </div>
          <label
            >Time zone
            <Choice v-model="form.time_zone" label="Time zone">
              <el-option v-for="z in zones" :key="z" :value="z" :label="z" />
            </Choice>
          </label>
          <label>Money <el-input v-model="form.currency" class="short" maxlength="3" minlength="3" required /></label>
          <label
            >Climate
            <Choice v-model="form.climate" label="Climate">
              <el-option value="mild" label="mild" />
              <el-option value="cold_winter" label="cold winters" />
              <el-option value="hot_summer" label="hot summers" />
            </Choice>
          </label>
        </div>
      </fieldset>
      <fieldset>
        <legend>2 · What must not go off?</legend>
        <p class="soft small">W: on average while in use</p>
        <p v-if="typical.isError.value" role="alert">The table of typical loads did not come; is the server running?</p>
        <div class="groups">
          <section v-for="[group, rows] in groups" :key="group">
            <h3>{{ group }}</h3>
            <div v-for="t in rows" :key="t.id" class="pick" :class="{ on: picks[t.id] }" :title="t.reason">
              <el-button class="name" :aria-pressed="!!picks[t.id]" @click="picks[t.id] = picks[t.id] ? 0 : 1">
                {{ t.name }} <Fig class="soft small" :text="watts(t.usual_w)" />
              </el-button>
              <span v-if="picks[t.id]" class="count">
                <el-button :aria-label="`One ${t.name} less`" @click="count(t.id, -1)">−</el-button>
                {{ picks[t.id] }}
                <el-button :aria-label="`One ${t.name} more`" @click="count(t.id, 1)">+</el-button>
              </span>
            </div>
          </section>
        </div>
      </fieldset>
      <fieldset>
        <legend>3 · What do you have?</legend>
        <div class="either" role="group" aria-label="What is there already">
          <el-button :aria-pressed="has === 'nothing'" @click="has = 'nothing'">Nothing yet</el-button>
          <el-button :aria-pressed="has === 'station'" @click="has = 'station'">A power station</el-button>
        </div>
        <div v-if="has === 'station'" class="row box">
          <label>Its name <el-input v-model="own.name" maxlength="80" /></label>
          <label>Stored, Wh <el-input v-model="own.nominal_wh" class="short" inputmode="decimal" /></label>
          <label>Output, W <el-input v-model="own.continuous_w" class="short" inputmode="decimal" /></label>
          <label
            >AC outlets
            <el-input v-model="own.outlets" class="short" inputmode="numeric" placeholder="not counted" />
          </label>
        </div>
        <p v-if="has === 'station'" class="soft small">
          As its label says. What you leave out is assumed with care, and said so; the rest of the label goes in under
          Equipment later.
        </p>
        <p v-else class="soft small">The answer then names a size that lasts long enough, with its price.</p>
      </fieldset>
      <fieldset>
        <legend>4 · How long is it usually out?</legend>
        <div class="either" role="group" aria-label="Length of the usual outage">
          <el-button
            v-for="l in LENGTHS"
            :key="l.hours"
            :aria-pressed="form.hours === l.hours"
            @click="form.hours = l.hours"
          >
            {{ l.text }} <Fig class="small" :text="`${l.hours} h`" />
          </el-button>
        </div>
      </fieldset>
      <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
      <footer>
        <span v-if="!chosen" class="soft">Tick at least one thing that must not go off.</span>
        <el-button native-type="submit" class="btn strong pour" :disabled="!chosen || busy">{{
          busy ? 'Working it out…' : 'Show how long it lasts'
        }}</el-button>
      </footer>
    </form>
  </main>
</template>

<style scoped>
.start {
  max-width: 1060px;
  margin: 0 auto;
  padding: 22px 22px 40px;
}
fieldset {
  margin: 16px 0 0;
  padding: 0;
  border: 0;
}
legend {
  font: 650 19px var(--head);
  margin-bottom: 8px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 18px;
  align-items: flex-end;
}
label {
  display: grid;
  gap: 2px;
  color: var(--soft);
  font-size: 13px;
}
.el-input,
.choice {
  font-size: 14px;
}
.choice {
  max-width: 210px;
}
.short {
  width: 70px;
}
.box {
  margin-top: 10px;
}
.box .short {
  width: 120px;
}
.either {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.either button {
  min-height: 36px;
  padding: 4px 14px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--sheet);
}
.either [aria-pressed='true'] {
  background: var(--deep);
  border-color: var(--deep);
  color: var(--on-deep);
}
.groups {
  columns: 4;
  column-gap: 18px;
}
.groups section {
  break-inside: avoid;
  margin-bottom: 10px;
}
h3 {
  color: var(--soft);
  font-size: 13px;
}
.pick {
  display: flex;
  align-items: center;
  min-height: 30px;
  padding-left: 8px;
  border-bottom: 1px solid var(--line);
  border-left: 5px solid transparent;
}
.pick.on {
  border-left-color: var(--stored);
  background: var(--sheet);
}
.name {
  flex: 1;
  padding: 3px 0;
  border: 0;
  background: none;
  text-align: left;
}
.count {
  display: inline-flex;
  align-items: center;
  gap: 5px;
}
.count button {
  width: 26px;
  height: 26px;
  border: 1px solid var(--line-strong);
  border-radius: 6px;
  background: var(--paper);
}
footer {
  display: flex;
  justify-content: flex-end;
  align-items: center;
  gap: 14px;
  margin-top: 20px;
}
.pour {
  min-height: 44px;
  padding: 0 40px;
  font: 650 18px var(--head);
}
.problem {
  padding: 8px 12px;
  border-left: 6px solid var(--dark);
  background: var(--sheet);
}
@media (max-width: 900px) {
  .groups {
    columns: 2;
  }
}
@media (max-width: 760px) {
  .groups {
    columns: 1;
  }
  .pick,
  .either button {
    min-height: 44px;
  }
  .count button {
    width: 44px;
    height: 44px;
  }
}
</style>
