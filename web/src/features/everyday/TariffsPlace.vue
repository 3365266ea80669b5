<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Tariff, Window } from '@/shared/api/types'
import { answer, api } from '@/shared/api/client'
import { asFile } from '@/shared/api/file'
import { freshId, uniqueId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { act, edit, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import { MONTHS as NAMES, monthsText, parseMonths } from '@/shared/units/months'
import WindowsEditor from '@/shared/ui/fields/WindowsEditor.vue'
import TariffStart from './components/TariffStart.vue'
import WeekStrip from './components/WeekStrip.vue'
import EverydayHead from './EverydayHead.vue'
import FoldSection from '@/shared/ui/FoldSection.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'

/** What a kWh costs, and when. A rate that is corrected recomputes whatever hung on it. */
const { home, state, pair } = useSession()
const tariffs = computed(() => Object.values(home.value?.tariffs ?? {}))
const currency = computed(() => home.value?.site.currency ?? '')
const month = ref(new Date().getMonth() + 1)
const problem = ref('')

function put(t: Tariff, change: Partial<Tariff>) {
  edit(`Tariff: ${t.name}`, [
    { doc: 'home', op: 'replace', path: `/tariffs/${escape(t.id)}`, value: { ...t, ...change } },
  ])
}
const starting = ref(false)
function drop(t: Tariff) {
  edit(`Remove ${t.name}`, [{ doc: 'home', op: 'remove', path: `/tariffs/${escape(t.id)}` }])
}
function figure(text: string, then: (value: number) => void) {
  const read = parseNumber(text)
  problem.value = read.ok ? '' : read.why
  if (read.ok) then(read.value)
}
function rate(t: Tariff, id: string, change: object) {
  const now = t.rates[id]
  if (now) put(t, { rates: { ...t.rates, [id]: { ...now, ...change } } })
}
function addRate(t: Tariff) {
  const id = freshId('rate', Object.keys(t.rates))
  const windows = [{ start_h: 23, end_h: 6, days: 'all' as const }]
  put(t, { rates: { ...t.rates, [id]: { id, name: 'Night', price: 0.15, windows, months: [] } } })
}
function dropRate(t: Tariff, id: string) {
  const rates = { ...t.rates }
  delete rates[id]
  put(t, { rates })
}
const tiersText = (t: Tariff) => (t.tiers ?? []).map((x) => `${x.above_kwh}: ${x.more}`).join('; ')
function tiers(t: Tariff, text: string) {
  const read = text
    .split(';')
    .filter((x) => x.trim())
    .map((x) => x.split(':').map((y) => parseNumber(y ?? '')))
  const wrong = read.some((pair) => pair.length !== 2 || pair.some((x) => !x.ok))
  problem.value = wrong ? `“${text}”: write tiers such as 300: 0.05; 600: 0.1.` : ''
  if (!wrong) put(t, { tiers: read.map(([above, more]) => ({ above_kwh: above!.value, more: more!.value })) })
}
function holidays(t: Tariff, text: string) {
  const read = text.split(/[\s,;]+/).filter(Boolean)
  const wrong = read.some((d) => !/^\d{4}-\d\d-\d\d$/.test(d) || Number.isNaN(Date.parse(d)))
  problem.value = wrong ? `“${text}”: write days such as 2026-12-25, separated by commas.` : ''
  if (!wrong) put(t, { holidays: read })
}
const file = (t: Tariff) =>
  `/api/homes/${encodeURIComponent(state.value?.id ?? '')}/tariffs/${encodeURIComponent(t.id)}.csv`
const take = (taken: File) => {
  const query = { name: taken.name, edit_id: uniqueId(), ...pair.value }
  return act((home_id) =>
    answer(api.POST('/api/homes/{home_id}/tariffs', { params: { path: { home_id }, query }, ...asFile(taken) })),
  )
}
function months(t: Tariff, id: string, text: string) {
  const read = parseMonths(text)
  problem.value = read ? '' : `“${text}”: write months such as 6-9, or Jun, Jul.`
  if (read) rate(t, id, { months: read })
}
/** The tariff that holds last stands open; the rates of those before it are folded. */
const newest = computed(() => tariffs.value.reduce((a, b) => (b.since > a.since ? b : a), tariffs.value[0]!)?.id)
/** Whether a price holds in some months only: else every month looks the same. */
const seasonal = computed(() => tariffs.value.some((t) => Object.values(t.rates).some((r) => r.months?.length)))
const folded = (t: Tariff) => ({
  id: `tariffs/${t.id}`,
  title: 'Rates',
  level: 2 as const,
  holds: Object.keys(t.rates).length,
})
</script>

<template>
  <div class="place tariffs">
    <EverydayHead
      ><el-button v-if="tariffs.length" class="btn" :aria-expanded="starting" @click="starting = !starting"
        >Add a tariff</el-button
      ><FileButton accept=".csv,text/csv" @file="take">From a CSV</FileButton></EverydayHead
    >
    <p v-if="problem" role="alert">{{ problem }}</p>
    <p v-if="!tariffs.length" class="soft">
      Get your bill. With its prices, Imbuto shows what the plan saves per year and what keeping charge for outages
      costs.
    </p>
    <TariffStart v-if="!tariffs.length || starting" :currency="currency" @added="starting = false" />
    <p v-if="seasonal" class="segments" role="group" aria-label="Month shown">
      <el-button v-for="(n, i) in NAMES" :key="n" :aria-pressed="month === i + 1" @click="month = i + 1">{{
        n
      }}</el-button>
    </p>
    <div class="scroll side">
      <article v-for="t in tariffs" :key="t.id" class="fields" :aria-label="t.name">
        <p class="head">
          <KeptInput :value="t.name" maxlength="80" label="Tariff name" @keep="put(t, { name: $event || t.name })" />
          <el-button class="link small" :aria-label="`Remove ${t.name}`" @click="drop(t)">remove</el-button>
        </p>
        <WeekStrip :tariff="t" :month="month" />
        <label>
          Valid from
          <el-date-picker
            :automatic-dropdown="false"
            :model-value="t.since"
            type="date"
            value-format="YYYY-MM-DD"
            :clearable="false"
            @update:model-value="$event && put(t, { since: $event })"
          />
        </label>
        <component :is="t.id === newest ? 'div' : FoldSection" v-bind="t.id === newest ? {} : folded(t)">
          <section v-for="r in t.rates" :key="r.id" class="rate">
            <p>
              <KeptInput
                :value="r.name"
                maxlength="80"
                label="Rate name"
                @keep="rate(t, r.id, { name: $event || r.name })"
              />
              <KeptInput
                :value="r.price"
                class="price"
                inputmode="decimal"
                :label="`${r.name}, ${currency} a kWh`"
                @keep="figure($event, (v) => rate(t, r.id, { price: v }))"
              />
              {{ currency }}/kWh
              <el-button
                v-if="Object.keys(t.rates).length > 1"
                class="link small"
                :aria-label="`Remove ${r.name}`"
                @click="dropRate(t, r.id)"
              >
                remove
              </el-button>
            </p>
            <label>
              only in months
              <KeptInput
                :value="r.months?.length ? monthsText([...r.months]) : ''"
                class="months"
                placeholder="all"
                label="only in months"
                @keep="months(t, r.id, $event)"
              />
            </label>
            <small v-if="!r.windows?.length" class="soft">in all hours that no other rate covers</small>
            <WindowsEditor
              :model-value="(r.windows ?? []) as Window[]"
              @update:model-value="rate(t, r.id, { windows: $event })"
            />
          </section>
          <el-button class="btn" @click="addRate(t)">Add a rate</el-button>
          <p>
            <label>
              Per kWh exported
              <KeptInput
                :value="t.export_price"
                class="price"
                inputmode="decimal"
                label="Per kWh exported"
                @keep="figure($event, (v) => put(t, { export_price: v }))"
              />
            </label>
            <el-checkbox class="check" :model-value="t.net" @change="put(t, { net: !!$event })"
              >credited at the price of its hour</el-checkbox
            >
          </p>
          <label>
            Fixed (per month)
            <KeptInput
              :value="t.fixed"
              class="price"
              inputmode="decimal"
              label="Fixed (per month)"
              @keep="figure($event, (v) => put(t, { fixed: v }))"
            />
          </label>
          <label>
            Tiers by kWh per month
            <KeptInput
              :value="tiersText(t)"
              placeholder="300: 0.05; 600: 0.1"
              label="Higher price above (kWh per month)"
              @keep="tiers(t, $event)"
            />
          </label>
          <label>
            Holidays, as weekends
            <KeptInput
              :value="(t.holidays ?? []).join(', ')"
              placeholder="2026-12-25"
              label="Holidays, as weekends"
              @keep="holidays(t, $event)"
            />
          </label>
          <p><a class="link" :href="file(t)" download>As CSV</a></p>
          <label
            >Source <KeptInput :value="t.source" maxlength="200" label="Source" @keep="put(t, { source: $event })"
          /></label>
        </component>
      </article>
    </div>
  </div>
</template>

<style scoped>
.side {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  align-items: flex-start;
}
article {
  flex: 1 1 380px;
  max-width: 520px;
  padding: 8px 14px 12px;
  border: 1px solid var(--line);
  border-radius: 9px;
  background: var(--sheet);
}
.head,
.rate > p {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin: 4px 0;
}
.rate {
  margin: 8px 0;
  padding: 4px 0;
  border-top: 1px solid var(--line);
}
.price {
  width: 84px;
}
.months {
  width: 130px;
}
label {
  display: block;
  margin: 4px 0;
  font-size: 13.5px;
}
</style>
