<script setup lang="ts">
import { computed, ref } from 'vue'
import { escape } from '@/shared/session/patch'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import { money, number, parseNumber, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import FoldSection from '@/shared/ui/FoldSection.vue'
import RowsEditor from '@/shared/ui/fields/RowsEditor.vue'
import type { Column, Row } from '@/shared/ui/fields/rows'
import { blanks } from '@/shared/api/blanks'
import { COST_KINDS } from './policy'
import CostForms from './components/CostForms.vue'
import EverydayHead from './EverydayHead.vue'

/** What it costs, what comes off, what it saves, and when that meets. "Never" is an answer. */
const { plan, pair, verdict } = useSession()
const avoided = ref(0)
const typed = ref('')
const query = useHomeQuery('/api/homes/{home_id}/worth', {
  query: () => ({ ...pair.value, avoided: avoided.value }),
  enabled: () => !!pair.value.plan,
})
const w = query.view
const m = (v: number) => money(v, w.value?.currency ?? 'USD')
const years = (y: number | null) => (y == null ? 'never' : `${number(y, 1)} years`)
function num(text: string): number | null {
  const read = parseNumber(text)
  return read.ok && read.value >= 0 ? read.value : null
}
function drop(what: 'costs' | 'credits', name: string) {
  const rows = (plan.value?.[what] ?? {}) as Record<string, { id: string; name: string }>
  const found = Object.values(rows).find((x) => x.name === name)
  if (plan.value && found)
    edit(`Remove ${name}`, [{ doc: plan.value.id, op: 'remove', path: `/${what}/${escape(found.id)}` }])
}
/** One offer counts, its rivals do not. */
function choose(quote: string) {
  if (!plan.value) return
  const doc = plan.value.id
  edit(
    `Offer: ${quote}`,
    Object.values(plan.value.costs ?? {})
      .filter((c) => c.quote)
      .map((c) => ({
        doc,
        op: 'replace',
        path: `/costs/${escape(c.id)}/counts`,
        value: c.quote === quote,
      })),
  )
}
const isRow = (name: string) => Object.values(plan.value?.costs ?? {}).some((c) => c.name === name)
const firstSource = computed(() => Object.keys(plan.value?.sources ?? {})[0] ?? 'main')
const sources = computed(() =>
  Object.fromEntries(
    Object.keys(plan.value?.sources ?? {}).map((key) => [
      key,
      verdict.value?.parts.find((p) => p.source === key)?.name ?? verdict.value?.rail.station ?? key,
    ]),
  ),
)
const useColumns = computed<Column[]>(() => [
  { key: 'name', title: 'Use', kind: 'text', most: 80 },
  { key: 'source', title: 'Station', kind: 'choice', choices: sources.value },
  { key: 'modules', title: 'Modules', kind: 'number', empty: 0 },
  { key: 'days', title: 'Days a year', kind: 'number', empty: 0 },
  { key: 'instead', title: `${w.value?.currency ?? ''} per day otherwise`, kind: 'number', hint: 'no money' },
])
function spoil() {
  avoided.value = num(typed.value) ?? 0
}
</script>

<template>
  <div class="place worth">
    <EverydayHead />
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!w" class="soft" role="status">Adding up…</p>
    <div v-else class="columns" :aria-busy="query.isFetching.value">
      <section class="scroll">
        <div class="figures">
          <div>
            <strong><Fig :text="m(w.net)" /></strong
            ><span
              >to be paid<template v-if="w.net < w.cost">, {{ m(w.cost) }} before what comes off</template></span
            >
          </div>
          <div>
            <strong><Fig :text="w.saving == null ? 'no tariff' : m(Math.abs(w.saving))" /></strong
            ><span>{{
              w.saving != null && w.saving < -0.5
                ? 'more in the first year than without the plan'
                : 'saved in the first year, in cash'
            }}</span>
          </div>
          <div>
            <strong><Fig :text="w.payback[0] ? years(w.payback[0].years) : '…'" /></strong
            ><span>{{
              w.payback[0] && w.payback[0].years == null ? 'pays for itself' : 'until it has paid for itself'
            }}</span>
          </div>
        </div>
        <p v-if="w.nothing">
          <b>{{ w.nothing }}</b>
        </p>
        <p v-if="w.warning" role="alert">{{ w.warning }}</p>
        <table v-if="w.payback.length" class="sums">
          <caption>
            Years until it has paid for itself. Imbuto counts on the battery for
            {{
              number(w.lives, 1)
            }}
            years:
            {{
              w.lives_why
            }}.
          </caption>
          <thead>
            <tr>
              <th>Price increase per year</th>
              <th v-for="p in w.payback.filter((x) => !x.avoided)" :key="p.growth">{{ percent(p.growth) }}</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <td>savings only</td>
              <td v-for="p in w.payback.filter((x) => !x.avoided)" :key="p.growth">{{ years(p.years) }}</td>
            </tr>
            <tr v-if="w.avoided">
              <td>with spoiled food and other outage costs</td>
              <td v-for="p in w.payback.filter((x) => x.avoided)" :key="p.growth">{{ years(p.years) }}</td>
            </tr>
            <tr v-for="o in w.others.length > 1 ? w.others : []" :key="o.name">
              <td>at {{ o.name }}, saving {{ m(o.saving) }}</td>
              <td :colspan="3">{{ years(o.years) }}</td>
            </tr>
          </tbody>
        </table>
        <form class="one" @submit.prevent="spoil">
          <label
            >Outage costs per year: food, work, pump, hotel, fuel
            <el-input v-model="typed" inputmode="decimal" :aria-label="`Outage costs per year, ${w.currency}`"
          /></label>
          <el-button native-type="submit" class="btn">Include this</el-button>
        </form>
        <p class="soft small">
          Wear is part of the daily choice, so it isn’t counted again here. This isn’t tax advice.
        </p>
        <h2 class="third">Other plans, each with its own hours</h2>
        <table class="sums">
          <thead>
            <tr>
              <th>plan</th>
              <th>cost</th>
              <th>hours</th>
              <th>per hour</th>
              <th>compared with this one</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in w.rivals" :key="r.plan">
              <td>{{ r.name }}</td>
              <td>{{ m(r.cost) }}</td>
              <td>{{ r.hours }}</td>
              <td>{{ r.a_hour == null ? '' : m(r.a_hour) }}</td>
              <td :title="r.ratio">{{ r.ratio.split(',')[0] }}</td>
            </tr>
          </tbody>
        </table>
        <h2 class="third">Without this plan</h2>
        <ul>
          <li v-for="line in w.instead" :key="line">{{ line }}</li>
        </ul>
        <p v-if="w.a_kwh != null" class="small">
          <Fig :text="m(w.a_kwh)" /> per stored kWh, <Fig :text="m(w.a_usable_kwh ?? 0)" /> per usable kWh.
        </p>
        <template v-if="w.steps.length">
          <h2 class="third">The next step</h2>
          <ul>
            <li v-for="s in w.steps" :key="s.label">
              <b>{{ s.label }}</b>: {{ s.hours }} more<template v-if="s.price != null">, {{ m(s.price) }}</template
              ><template v-if="s.a_hour != null">, {{ m(s.a_hour) }} per hour</template>
            </li>
          </ul>
        </template>
      </section>
      <section class="scroll fields">
        <h2 class="third">Item by item</h2>
        <table class="sums">
          <thead>
            <tr>
              <th>item</th>
              <th>kind</th>
              <th>left to pay</th>
              <th><span class="sr">What</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(l, i) in w.lines" :key="i" :class="{ aside: !l.counts }">
              <td>
                {{ l.count > 1 ? `${l.count} × ` : '' }}{{ l.name }}
                <small class="soft">{{
                  [l.owned ? `${l.owned} there already` : '', l.quote, l.note].filter(Boolean).join(', ')
                }}</small>
              </td>
              <td>{{ COST_KINDS[l.kind] ?? l.kind }}</td>
              <td>{{ m(l.sum) }}</td>
              <td>
                <el-button
                  v-if="isRow(l.name)"
                  class="link small"
                  :aria-label="`Remove ${l.name}`"
                  @click="drop('costs', l.name)"
                >
                  remove
                </el-button>
              </td>
            </tr>
            <tr v-for="c in w.credits" :key="c.name">
              <td>
                {{ c.name }} <small class="soft">{{ [c.met, c.note].filter(Boolean).join(', ') }}</small>
              </td>
              <td>credit</td>
              <td>{{ m(-c.off) }}</td>
              <td>
                <el-button class="link small" :aria-label="`Remove ${c.name}`" @click="drop('credits', c.name)">
                  remove
                </el-button>
              </td>
            </tr>
          </tbody>
        </table>
        <template v-if="w.offers.length">
          <h2 class="third">Offers</h2>
          <p v-for="o in w.offers" :key="o.name">
            <el-button class="btn" :aria-pressed="o.chosen" @click="choose(o.name)">{{ o.name }}</el-button>
            {{ m(o.total) }} with all else
          </p>
        </template>
        <CostForms :currency="w.currency" />
        <FoldSection id="worth/uses" title="What is it for, besides?" :holds="w.uses.length || 'none'">
          <p v-if="!w.uses.length" class="soft small">
            Camping, a neighbor, a job: what a station is carried to. No money is made up for it.
          </p>
          <p v-for="u in w.uses" :key="u.use.id" data-test="use">
            <b>{{ u.use.name }}</b>. {{ u.says }} <Fig v-if="u.price" :text="m(u.price)" /><template v-if="u.price">
              of this plan’s price is equipment you carry.</template
            >
            <span v-if="u.problem" role="note" class="over"> {{ u.problem }}</span>
          </p>
          <RowsEditor
            v-if="plan"
            label="Other uses"
            what="use"
            :doc="plan.id"
            path="/other_uses"
            :columns="useColumns"
            :rows="Object.values(plan.other_uses) as unknown as Row[]"
            :blank="{ ...blanks.other_use, source: firstSource }"
            :kept="Object.keys(plan.other_uses)"
          />
        </FoldSection>
      </section>
    </div>
  </div>
</template>

<style scoped>
.columns > section {
  flex: 1;
}
.over {
  color: var(--dark);
}
.aside {
  color: var(--soft);
  text-decoration: line-through;
}
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin: 8px 0;
}
.one .el-input {
  width: 130px;
}
.btn[aria-pressed='true'] {
  border-width: 3px;
  font-weight: 650;
}
.third {
  margin: 12px 0 4px;
}
ul {
  margin: 4px 0;
  padding-left: 18px;
}
</style>
