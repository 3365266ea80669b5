<script setup lang="ts">
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import { asFile } from '@/shared/api/file'
import type { Op } from '@/shared/api/types'
import { uniqueId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { act, edit, useSession } from '@/shared/session/session'
import { clock, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import NewEntry from './components/NewEntry.vue'
import PromiseBars from './components/PromiseBars.vue'
import { useHomeClock } from './homeClock'
import StormHead from './StormHead.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'

/** What a home remembers: one line of time, promise beside outcome, energy, defects until they are closed. */
const { state, home, pair } = useSession()
const by = ref<'day' | 'week' | 'month'>('month')
const query = useHomeQuery('/api/homes/{home_id}/book', {
  query: () => ({ outage: pair.value.outage, by: by.value }),
  enabled: () => !!pair.value.outage,
})
const book = query.view
const { now } = useHomeClock(ref(undefined))
const shown = ref<'lines' | 'outcomes' | 'energy'>('lines')
const PARTS = { lines: 'Timeline', outcomes: 'Estimate and outcome', energy: 'Energy and dawns' } as const
const only = ref('')
const KINDS: Record<string, string> = {
  outage: 'Outage',
  test: 'Test',
  drill: 'Practice',
  defect: 'Defect',
  note: 'Note',
  part: 'Part',
  firmware: 'Firmware',
  cycles: 'Cycles',
  waking: 'Dawn',
  energy: 'Energy',
}
const lines = computed(() => (book.value?.lines ?? []).filter((x) => !only.value || x.kind === only.value))
const kinds = computed(() => [...new Set((book.value?.lines ?? []).map((x) => x.kind))])
const csv = computed(() => `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/book.csv`)
const ending = ref('')
function close(id: string) {
  const at = `/book/${escape(id)}/case` as const
  edit('Defect closed', [
    { doc: 'home', op: 'replace', path: `${at}/closed`, value: now() },
    { doc: 'home', op: 'replace', path: `${at}/ending`, value: ending.value.trim() },
  ])
  ending.value = ''
}
function drop(id: string) {
  edit('Logbook entry removed', [{ doc: 'home', op: 'remove', path: `/book/${escape(id)}` }])
}
const file = (taken: File) => {
  const query = { name: taken.name, edit_id: uniqueId(), ...pair.value }
  return act((home_id) =>
    answer(api.POST('/api/homes/{home_id}/book/energy', { params: { path: { home_id }, query }, ...asFile(taken) })),
  )
}
const isOwn = (kind: string) => !['outage', 'test', 'drill'].includes(kind)
</script>

<template>
  <div class="place book">
    <StormHead><a class="btn" :href="csv" download>As CSV</a></StormHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!book" class="soft" role="status">Loading…</p>
    <div v-else class="columns">
      <section class="scroll main">
        <nav class="segments" aria-label="Parts of the logbook">
          <el-button v-for="(text, key) in PARTS" :key="key" :aria-pressed="shown === key" @click="shown = key">
            {{ text }}
          </el-button>
        </nav>
        <template v-if="shown === 'lines'">
          <div v-for="offer in book.learnt" :key="offer.title" class="learnt" data-test="learnt-offer">
            <b>{{ offer.title }}</b>
            <p>Next promise: {{ offer.after }}. Without it: {{ offer.before }}.</p>
            <el-button class="btn" @click="edit(offer.label, offer.ops as unknown as Op[])"
              >Use this in the plan</el-button
            >
          </div>
          <p v-if="book.goals.length">
            <b>Outages, {{ book.goals_say }}</b
            >&nbsp;
            <el-button class="link" @click="edit('Outages so far, into Goals', book.goals as unknown as Op[])">
              Add to Needs and people
            </el-button>
          </p>
          <p v-if="kinds.length > 1" class="segments" role="group" aria-label="Only">
            <el-button :aria-pressed="!only" @click="only = ''">All</el-button>
            <el-button v-for="k in kinds" :key="k" :aria-pressed="only === k" @click="only = k">{{
              KINDS[k]
            }}</el-button>
          </p>
          <ol class="time">
            <li v-for="x in lines" :key="`${x.kind}${x.ident}`" :class="{ open: x.open }">
              <p class="when">
                {{ x.at.slice(0, 10) }} <small>{{ clock(x.at) }}</small>
              </p>
              <div>
                <b>{{ x.title }}</b> <small class="soft">{{ KINDS[x.kind] }}{{ x.open ? ', open' : '' }}</small>
                <p v-if="x.detail">{{ x.detail }}</p>
                <form v-if="x.open && x.kind === 'defect'" class="ending fields" @submit.prevent="close(x.ident)">
                  <el-input
                    v-model="ending"
                    :aria-label="`How ${x.title} ended`"
                    placeholder="how it ended"
                    maxlength="300"
                  />
                  <el-button native-type="submit" class="btn tiny">Close it</el-button>
                </form>
                <el-button
                  v-if="isOwn(x.kind)"
                  class="link small"
                  :aria-label="`Take out ${x.title}`"
                  @click="drop(x.ident)"
                >
                  Remove
                </el-button>
              </div>
            </li>
          </ol>
          <p v-if="!lines.length" class="soft">
            The logbook is empty. Outages, tests and practice rounds appear by themselves. Add other entries here.
          </p>
        </template>
        <template v-else-if="shown === 'outcomes'">
          <p v-if="book.honest">
            <b>{{ book.honest }}.</b> If that is far from 9 in 10, measure the plan’s figures.
          </p>
          <p v-if="book.outcomes.length" class="soft">
            Frame: estimate. Vertical line: hours to count on. Filled: how long it was on. A bar at the end means that
            the power ran out.
          </p>
          <PromiseBars :outcomes="book.outcomes" />
          <p v-if="book.load_trend?.told">
            Power use goes {{ book.load_trend.a_year > 0 ? 'up' : 'down' }} by
            <Fig :text="`${number(Math.abs(book.load_trend.a_year), 1)}%`" /> of the plan per year.
          </p>
          <p v-if="!book.outcomes.length" class="soft">No outage has been recorded with Imbuto yet.</p>
        </template>
        <template v-else>
          <nav class="segments" aria-label="Energy by">
            <el-button v-for="b in ['day', 'week', 'month'] as const" :key="b" :aria-pressed="by === b" @click="by = b">
              by {{ b }}
            </el-button>
          </nav>
          <table v-if="book.energy.length" class="sums">
            <thead>
              <tr>
                <th>from</th>
                <th>sun, kWh</th>
                <th>grid, kWh</th>
                <th>house, kWh</th>
                <th>charged (kWh)</th>
                <th>discharged (kWh)</th>
                <th>met by sun</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="e in book.energy" :key="e.begins">
                <td>{{ e.begins }}</td>
                <td>{{ number(e.sun_kwh, 1) }}</td>
                <td>{{ number(e.grid_kwh, 1) }}</td>
                <td>{{ number(e.house_kwh, 1) }}</td>
                <td>{{ number(e.battery_in_kwh, 1) }}</td>
                <td>{{ number(e.battery_out_kwh, 1) }}</td>
                <td>{{ e.by_sun == null ? '' : percent(e.by_sun) }}</td>
              </tr>
            </tbody>
          </table>
          <p v-else class="soft">No energy noted yet. Enter a day by hand, or import a CSV below.</p>
          <p class="soft">Energy from a battery on a solar input isn’t solar and is subtracted.</p>
          <p>
            <FileButton accept=".csv,text/csv" @file="file">Energy by day from a CSV</FileButton>
            <small class="soft">
              date,sun_kwh,grid_kwh,house_kwh,battery_in_kwh,battery_out_kwh,battery_at_sun_kwh</small
            >
          </p>
          <template v-if="book.waking.length">
            <h2 class="third">Charge at dawn, compared with the plan</h2>
            <ul class="dawns">
              <li v-for="w in book.waking" :key="w.at">
                {{ w.at.slice(0, 10) }}: <b><Fig :text="percent(w.charge)" /></b>
                <template v-if="w.expected != null"
                  >, the plan would leave <Fig :text="percent(w.expected)"
                /></template>
              </li>
            </ul>
            <p v-if="book.waking_trend?.told">
              Compared with the plan it {{ book.waking_trend.a_year < 0 ? 'falls' : 'rises' }} by
              <Fig :text="`${number(Math.abs(book.waking_trend.a_year), 1)} points`" /> per year<template
                v-if="book.waking_trend.a_year < 0"
                >: wear, or something new that uses power at night</template
              >.
            </p>
            <p v-else-if="book.waking.length > 2" class="soft">No trend that chance would not make too.</p>
          </template>
          <p v-if="book.cycles">Cycles so far: {{ number(book.cycles) }}.</p>
        </template>
      </section>
      <section class="scroll beside">
        <h2 class="third">Add an entry</h2>
        <NewEntry :now="now" />
        <p v-if="book.open_cases" class="soft">
          {{ book.open_cases }} {{ book.open_cases === 1 ? 'defect is' : 'defects are' }} open.
        </p>
        <p v-if="home?.live" class="soft">An outage is running. It appears here when the grid is back.</p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.main {
  flex: 1;
}
.beside {
  flex: 0 0 320px;
}
.time {
  margin: 0;
  padding: 0;
  list-style: none;
}
.time li {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 12px;
  padding: 6px 0 8px;
  border-bottom: 1px solid var(--line);
}
.time .open {
  border-left: 5px solid var(--dark);
  padding-left: 8px;
}
.time p {
  margin: 0;
}
.when {
  font-variant-numeric: tabular-nums;
}
.when small {
  display: block;
  color: var(--soft);
}
.ending {
  display: flex;
  gap: 8px;
  margin: 4px 0;
}
.dawns {
  margin: 4px 0;
  padding: 0;
  list-style: none;
}
@media (width < 900px) {
  .beside {
    flex: auto;
  }
  .time li {
    grid-template-columns: 84px 1fr;
  }
}
</style>
