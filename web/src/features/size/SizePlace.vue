<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import CompareHead from '@/features/compare/CompareHead.vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import Fig from '@/shared/ui/Fig.vue'
import { hoursText, parseHours, parseNumber } from '@/shared/units/format'
import ByHand from './components/ByHand.vue'
import FrontierPanel from './components/FrontierPanel.vue'
import LoadCosts from './components/LoadCosts.vue'
import SchoolTable from './components/SchoolTable.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** How large: each school beside the simulation, what each load takes, and what can be bought. */
const { home, plan, pair, problem } = useSession()
const route = useRoute()
const budget = ref<number | null>(null)
const felt = ref<number | null>(null)
const query = useHomeQuery('/api/homes/{home_id}/size', {
  query: () => ({
    ...pair.value,
    ...(budget.value === null ? {} : { budget: budget.value }),
    ...(felt.value === null ? {} : { felt_h: felt.value }),
  }),
  enabled: () => !!pair.value.plan && !!pair.value.outage,
})
const view = query.view
const currency = computed(() => home.value?.site.currency ?? '')

function figure(text: string, which: 'budget' | 'felt', what: string, most: number) {
  const target = which === 'budget' ? budget : felt
  if (!text) {
    target.value = null
    return
  }
  const parsed = which === 'felt' ? parseHours(text) : parseNumber(text)
  if (!parsed.ok || parsed.value <= 0 || parsed.value > most) {
    problem.value = `${what}: ${parsed.ok ? `more than 0 and at most ${most.toLocaleString('en-US')} is wanted` : parsed.why}`
    return
  }
  target.value = parsed.value
}
</script>

<template>
  <div v-if="home && plan" class="place">
    <CompareHead>
      <label
        >Budget
        <KeptInput
          class="money"
          :value="budget"
          label="Budget"
          inputmode="decimal"
          placeholder="none set"
          @keep="figure($event, 'budget', 'Budget', 1000000)"
        />
        {{ currency }}</label
      >
    </CompareHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="!view" class="soft" role="status">Trying every size…</p>
    <div v-else class="scroll body">
      <FrontierPanel :budget="budget" :plan="plan" />
      <template v-if="view.schools.length">
        <SchoolTable :schools="view.schools" />
        <div class="two">
          <LoadCosts :loads="view.loads" :goes-dark="view.goes_dark" />
          <section class="felt fields">
            <h2>Over the years</h2>
            <p class="ages">
              <span v-for="y in view.years" :key="y.years">
                {{ y.years ? `${y.years} years on` : 'now' }}
                <b><Fig :text="y.hours === null ? 'still on at the end' : hoursText(y.hours)" /></b>
              </span>
            </p>
            <p class="soft small">
              2% of the capacity per year (planning default). Your own test gives a better figure.
            </p>
            <h2>Hours by feel</h2>
            <label
              >“It lasts about
              <KeptInput
                :value="felt"
                label="Hours by feel"
                inputmode="decimal"
                @keep="figure($event, 'felt', 'Hours', 2000)"
              />
              hours”, or “2 days”, “2 weeks”</label
            >
            <p v-if="view.felt" data-test="felt">{{ view.felt }}</p>
            <p v-else class="soft small">
              If someone tells you hours, they imply an average power. Enter the hours to compare it with your loads.
            </p>
          </section>
        </div>
      </template>
      <p v-else class="soft">
        Sizing methods are compared with a simulation, so choose a station first.
        <RouterLink class="btn tiny" :to="{ name: 'source', params: route.params, query: route.query }"
          >Choose one</RouterLink
        >
      </p>
      <ByHand :plan="plan" />
    </div>
  </div>
</template>

<style scoped>
.body {
  flex: 1;
  display: grid;
  gap: 18px;
  align-content: start;
}
.money {
  width: 90px;
}
.two {
  display: grid;
  grid-template-columns: 3fr 2fr;
  gap: 28px;
}
.felt .el-input {
  width: 60px;
}
.ages {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
.felt p {
  margin: 6px 0;
}
.body > * {
  min-width: 0;
}
@media (max-width: 760px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
