<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answer, api } from '@/shared/api/client'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { kwh, money, number, parseNumber, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'
import { useImport } from '@/features/house/importing'
import WhatIf from './components/WhatIf.vue'
import EverydayHead from './EverydayHead.vue'
import { guessRoles, monthDays, ROLES, type Role } from './energyRoles'

/** What was really saved in a day, a week or a month, by the meters, beside any price. */
const { state } = useSession()
const days = ref<[string, string] | null>(null)
const by = ref<'day' | 'week' | 'month'>('day')
const typed = ref('')
const price = computed(() => {
  const read = parseNumber(typed.value)
  return typed.value.trim() && read.ok ? read.value : undefined
})
const query = useHomeQuery('/api/homes/{home_id}/saved', {
  query: () => ({ first: days.value?.[0], last: days.value?.[1], by: by.value, price: price.value }),
})
const view = query.view
const { part, problem, log, start, stop, jobId } = useImport()
const roles = ref<Record<string, Role | ''>>({})
const wrong = ref('')
watch(log, (found) => (roles.value = found ? guessRoles(found.channels.map((c) => c.name)) : {}))
const chosen = computed(() =>
  Object.entries(roles.value).flatMap(([channel, role]) => (role ? [{ channel, role }] : [])),
)
async function keep() {
  wrong.value = ''
  try {
    const path = { home_id: state.value?.id ?? '' }
    const body = { job: jobId(), channels: chosen.value }
    await answer(api.POST('/api/homes/{home_id}/energy', { params: { path }, body }))
    log.value = null
    days.value = null
    await query.refetch()
  } catch (error) {
    wrong.value = error instanceof Error ? error.message : String(error)
  }
}
async function forget(role: Role) {
  const path = { home_id: state.value?.id ?? '', role }
  await answer(api.DELETE('/api/homes/{home_id}/energy/{role}', { params: { path } }))
  await query.refetch()
}
const m = (v: number) => money(Math.abs(v), view.value?.currency ?? 'USD')
const energy = (v: number | null) => (v == null ? '' : number(v, 1))
const HEADS: Record<Role, string> = {
  house: 'used',
  bought: 'bought',
  sent: 'sent',
  sun: 'sun',
  charged: 'battery in',
  delivered: 'battery out',
}
/** What is metered or worked out in the period. */
const columns = computed(() => (Object.keys(HEADS) as Role[]).filter((c) => view.value?.whole?.[c] != null))
/** From the first row that tells something to the last: what lies between shows its gaps, what lies outside is empty. */
const told = computed(() => {
  const rows = view.value?.rows ?? []
  const says = rows.map((r) => (Object.keys(HEADS) as Role[]).some((c) => r[c] != null))
  return rows.slice(Math.max(0, says.indexOf(true)), says.lastIndexOf(true) + 1)
})
const WORDS = { day: 'By day', week: 'By week', month: 'By month' } as const
</script>

<template>
  <div class="place saved">
    <EverydayHead>
      <FileButton accept=".csv,text/csv,.xml" @file="start($event, 'home')">Import a meter’s file</FileButton>
    </EverydayHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-if="problem || wrong" role="alert">{{ problem || wrong }}</p>
    <p v-if="part != null" role="status">
      Reading the file, {{ Math.round(100 * part) }}%… <el-button class="link" @click="stop">Stop</el-button>
    </p>
    <form v-if="log" class="columnsof" aria-label="Meaning of the columns" @submit.prevent="keep">
      <p v-for="note in log.notes" :key="note" class="soft small">{{ note }}</p>
      <label v-for="c in log.channels" :key="c.name">
        <span>{{ c.name }}</span>
        <el-select v-model="roles[c.name]" placeholder="leave out" :aria-label="`What ${c.name} meters`">
          <el-option value="" label="leave out" />
          <el-option v-for="(words, role) in ROLES" :key="role" :value="role" :label="words" />
        </el-select>
        <small class="soft"><Fig :text="`${number(c.average_w)} W`" /> on average</small>
      </label>
      <p class="soft small">
        Battery power that goes into a solar input isn’t sun: leave it out. New hours replace existing ones.
      </p>
      <el-button native-type="submit" class="btn primary" :disabled="!chosen.length">Save these</el-button>
    </form>
    <p v-if="!view" class="soft" role="status">Loading…</p>
    <p v-else-if="!view.kept.length && !log" class="soft">
      Nothing is metered yet. Export a CSV from your station’s app, your meter or your utility, and import it here. Any
      columns work, and you choose what each one means. A meter that speaks MQTT fills this page by itself: choose its
      value under Measure.
    </p>
    <div v-else-if="view.whole" class="scroll" :aria-busy="query.isFetching.value">
      <form class="questions-row fields" @submit.prevent>
        <label>
          Month
          <el-date-picker
            :automatic-dropdown="false"
            :model-value="view.first.slice(0, 7)"
            type="month"
            value-format="YYYY-MM"
            :clearable="false"
            aria-label="Month"
            @update:model-value="$event && (days = monthDays($event))"
          />
        </label>
        <label>
          First day
          <el-date-picker
            :automatic-dropdown="false"
            :model-value="view.first"
            type="date"
            value-format="YYYY-MM-DD"
            :clearable="false"
            aria-label="First day"
            @update:model-value="$event && (days = [$event, view.last < $event ? $event : view.last])"
          />
        </label>
        <label>
          Last day
          <el-date-picker
            :automatic-dropdown="false"
            :model-value="view.last"
            type="date"
            value-format="YYYY-MM-DD"
            :clearable="false"
            aria-label="Last day"
            @update:model-value="$event && (days = [view.first > $event ? $event : view.first, $event])"
          />
        </label>
        <label>
          At another price ({{ view.currency }} per kWh)
          <el-input v-model="typed" inputmode="decimal" placeholder="0.35" />
        </label>
      </form>
      <div class="figures">
        <div data-test="saved">
          <strong><Fig :text="view.whole.saved == null ? 'not known' : m(view.whole.saved)" /></strong>
          <span
            >{{ view.whole.saved != null && view.whole.saved < 0 ? 'more than without the plan' : 'saved' }}, at each
            day’s tariff</span
          >
        </div>
        <div v-if="view.whole.at_price != null" data-test="at-price">
          <strong><Fig :text="m(view.whole.at_price)" /></strong>
          <span>{{ view.whole.at_price < 0 ? 'more' : 'saved' }}, at {{ typed }} {{ view.currency }} per kWh</span>
        </div>
        <div v-if="view.whole.by_sun != null">
          <strong><Fig :text="percent(view.whole.by_sun)" /></strong>
          <span>{{ view.at_most ? 'of the house, at most, by sun' : 'of the house’s use wasn’t bought' }}</span>
        </div>
        <div v-if="view.whole.bought != null">
          <strong><Fig :text="kwh(1000 * view.whole.bought)" /></strong>
          <span>bought</span>
        </div>
      </div>
      <p v-for="note in view.notes" :key="note">{{ note }}</p>
      <details v-if="view.sums.length">
        <summary>The bills by hand</summary>
        <p v-for="sum in view.sums" :key="sum">{{ sum }} {{ view.currency }}</p>
      </details>
      <p class="segments" role="group" aria-label="Rows">
        <el-button v-for="(words, key) in WORDS" :key="key" :aria-pressed="by === key" @click="by = key">{{
          words
        }}</el-button>
      </p>
      <table class="sums">
        <thead>
          <tr>
            <th>from</th>
            <th>to</th>
            <th v-for="c in columns" :key="c">{{ HEADS[c] }} (kWh)</th>
            <th>saved ({{ view.currency }})</th>
            <th v-if="price != null">at {{ typed }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in told" :key="r.first">
            <td>{{ r.first }}</td>
            <td>{{ r.last === r.first ? '' : r.last }}</td>
            <td v-for="c in columns" :key="c">{{ energy(r[c]) }}</td>
            <td>{{ r.saved == null ? '' : number(r.saved, 2) }}</td>
            <td v-if="price != null">{{ r.at_price == null ? '' : number(r.at_price, 2) }}</td>
          </tr>
        </tbody>
      </table>
      <table v-if="view.circuits.length" class="sums">
        <caption>
          Metered circuits and loads
        </caption>
        <thead>
          <tr>
            <th>Circuit</th>
            <th>Used (kWh)</th>
            <th>Share of the house</th>
            <th>Metered hours</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in view.circuits" :key="c.name">
            <td>{{ c.name }}</td>
            <td>{{ number(c.kwh, 1) }}</td>
            <td>{{ c.share == null ? 'not known' : percent(c.share) }}</td>
            <td>{{ percent(c.told) }}</td>
          </tr>
        </tbody>
      </table>
      <WhatIf :first="view.first" :last="view.last" />
      <h2 class="third">Saved data</h2>
      <ul>
        <li v-for="k in view.kept" :key="k.role">
          {{ ROLES[k.role] }}, {{ k.first }} to {{ k.last }}
          <el-button class="link small" :aria-label="`Remove what was ${ROLES[k.role]}`" @click="forget(k.role)"
            >remove</el-button
          >
        </li>
      </ul>
    </div>
  </div>
</template>

<style scoped>
.columnsof {
  max-width: 720px;
  margin: 0 0 12px;
  padding: 10px 14px;
  border: 1px solid var(--line);
  border-radius: 9px;
  background: var(--sheet);
}
.columnsof label {
  display: grid;
  grid-template-columns: 1fr 220px 130px;
  gap: 10px;
  align-items: center;
  margin: 4px 0;
}
.figures {
  margin-top: 12px;
}
.third {
  margin: 12px 0 4px;
}
ul {
  margin: 4px 0;
  padding-left: 18px;
}
@media (width < 900px) {
  .columnsof label {
    grid-template-columns: 1fr;
  }
}
</style>
