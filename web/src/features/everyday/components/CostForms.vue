<script setup lang="ts">
import { reactive, ref } from 'vue'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { parseNumber } from '@/shared/units/format'
import type { Plan } from '@/shared/api/types'
import { COST_KINDS } from '../policy'
import { offerLines } from '../offerLines'

/** What is added to the bill by hand: one cost, a whole offer, or a credit. */
defineProps<{ currency: string }>()
const { plan } = useSession()
const KINDS = Object.keys(COST_KINDS) as Kind[]
type Kind = Plan['costs'][string]['kind']
const FORMS = { cost: 'A cost', offer: 'A whole offer', credit: 'A credit' }
const open = ref<keyof typeof FORMS | ''>('')
const row = reactive({ name: '', kind: 'labour' as Kind, sum: '', quote: '', source: '', season: '' })
const offer = reactive({ quote: '', kind: 'equipment' as Kind, text: '' })
const off = reactive({
  name: '',
  rate: '',
  sum: '',
  of: [] as Kind[],
  from: '',
  kwh: '',
  cap: '',
  ends: '',
  file_by: '',
})
const wrong = ref('')

function num(text: string): number | null {
  if (!text.trim()) return 0
  const read = parseNumber(text)
  return read.ok && read.value >= 0 ? read.value : null
}
/** An offer beside another one doesn't count until it is chosen. */
function counts(quote: string): boolean {
  const rows = Object.values(plan.value?.costs ?? {})
  return !quote || !rows.some((c) => c.quote && c.quote !== quote && c.counts)
}
function addCost() {
  const sum = row.sum.trim() ? num(row.sum) : null
  wrong.value = !row.name.trim() ? 'Name the cost.' : sum == null ? `“${row.sum}” isn’t an amount.` : ''
  if (wrong.value || !plan.value || sum == null) return
  const id = freshId(row.name, Object.keys(plan.value.costs ?? {}))
  const quote = row.quote.trim()
  const words = { source: row.source.trim(), season: row.season.trim() }
  const value = { id, name: row.name.trim(), kind: row.kind, sum, quote, counts: counts(quote), ...words }
  edit(`Cost: ${value.name}`, [{ doc: plan.value.id, op: 'add', path: `/costs/${escape(id)}`, value }])
  row.name = row.sum = row.source = ''
}
function addOffer() {
  const read = offerLines(offer.text)
  wrong.value = !offer.quote.trim() ? 'Name who made the offer.' : read.why
  if (wrong.value || !plan.value) return
  const doc = plan.value.id
  const taken = Object.keys(plan.value.costs ?? {})
  const counting = counts(offer.quote.trim())
  const ops = read.lines.map((line) => {
    const id = freshId(line.name, taken)
    taken.push(id)
    const value = { id, name: line.name, kind: offer.kind, sum: line.sum, quote: offer.quote.trim(), counts: counting }
    return { doc, op: 'add' as const, path: `/costs/${escape(id)}` as const, value }
  })
  edit(`Offer: ${offer.quote.trim()}`, ops)
  offer.text = ''
}
function addCredit() {
  const [rate, sum, threshold, kwh, cap] = [off.rate, off.sum, off.from, off.kwh, off.cap].map(num)
  const none = [rate, sum, threshold, kwh, cap].some((x) => x == null)
  wrong.value = !off.name.trim()
    ? 'Name the credit.'
    : none
      ? 'One of the amounts isn’t a number.'
      : rate! > 100 || rate! > 0 === sum! > 0
        ? 'Enter either a share in % or an amount.'
        : ''
  if (wrong.value || !plan.value) return
  const id = freshId(off.name, Object.keys(plan.value.credits ?? {}))
  const value = {
    id,
    name: off.name.trim(),
    rate: rate! / 100,
    sum: sum!,
    of: off.of,
    threshold: threshold!,
    storage_wh: 1000 * kwh!,
    cap: cap!,
    ends: off.ends || null,
    file_by: off.file_by.trim(),
  }
  edit(`Credit: ${value.name}`, [{ doc: plan.value.id, op: 'add', path: `/credits/${escape(id)}`, value }])
  Object.assign(off, { name: '', rate: '', sum: '', from: '', kwh: '', cap: '', file_by: '' })
}
</script>

<template>
  <section aria-label="Add to the bill">
    <p class="segments" role="group" aria-label="What to add">
      <el-button
        v-for="(words, key) in FORMS"
        :key="key"
        :aria-pressed="open === key"
        @click="open = open === key ? '' : key"
        >{{ words }}</el-button
      >
    </p>
    <p v-if="wrong" role="alert">{{ wrong }}</p>
    <form v-if="open === 'cost'" class="grid" @submit.prevent="addCost">
      <label>Cost <el-input v-model="row.name" maxlength="80" /></label>
      <label>
        Kind of cost
        <el-select v-model="row.kind"
          ><el-option v-for="k in KINDS" :key="k" :value="k" :label="COST_KINDS[k] ?? k"
        /></el-select>
      </label>
      <label>Amount ({{ currency }}) <el-input v-model="row.sum" inputmode="decimal" /></label>
      <label>Offer from <el-input v-model="row.quote" maxlength="60" placeholder="optional" /></label>
      <label>Where you read it <el-input v-model="row.source" maxlength="100" placeholder="optional" /></label>
      <label>When it is cheaper <el-input v-model="row.season" maxlength="60" placeholder="optional" /></label>
      <el-button native-type="submit" class="btn">Add the cost</el-button>
    </form>
    <form v-if="open === 'offer'" class="grid" @submit.prevent="addOffer">
      <label>Offer from <el-input v-model="offer.quote" maxlength="60" /></label>
      <label>
        Kind of cost
        <el-select v-model="offer.kind"
          ><el-option v-for="k in KINDS" :key="k" :value="k" :label="COST_KINDS[k] ?? k"
        /></el-select>
      </label>
      <label class="wide">
        Its lines, each with its amount in {{ currency }} at the end
        <el-input v-model="offer.text" type="textarea" :rows="5" placeholder="Station and two modules 4,100" />
      </label>
      <el-button native-type="submit" class="btn">Add the offer</el-button>
    </form>
    <form v-if="open === 'credit'" class="grid" @submit.prevent="addCredit">
      <label>Credit <el-input v-model="off.name" maxlength="80" /></label>
      <label>Share of the cost (%) <el-input v-model="off.rate" inputmode="decimal" /></label>
      <label>Or an amount ({{ currency }}) <el-input v-model="off.sum" inputmode="decimal" /></label>
      <label>
        Of which costs
        <el-select v-model="off.of" multiple collapse-tags placeholder="all of them"
          ><el-option v-for="k in KINDS" :key="k" :value="k" :label="COST_KINDS[k] ?? k"
        /></el-select>
      </label>
      <label>
        Only from costs of ({{ currency }}) <el-input v-model="off.from" inputmode="decimal" placeholder="any" />
      </label>
      <label>Only from storage of (kWh) <el-input v-model="off.kwh" inputmode="decimal" placeholder="any" /></label>
      <label>At most ({{ currency }}) <el-input v-model="off.cap" inputmode="decimal" placeholder="no limit" /></label>
      <label>
        Until
        <el-date-picker v-model="off.ends" :automatic-dropdown="false" type="date" value-format="YYYY-MM-DD" />
      </label>
      <label>File by <el-input v-model="off.file_by" maxlength="60" placeholder="a date, or where" /></label>
      <el-button native-type="submit" class="btn">Add the credit</el-button>
    </form>
  </section>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 10px;
  align-items: end;
  margin: 8px 0;
}
.grid label {
  display: grid;
  gap: 3px;
  font-size: 13.5px;
}
.grid label > .el-input {
  width: 100%;
}
.grid .wide {
  grid-column: 1 / -1;
}
.grid :deep(.el-date-editor.el-input) {
  width: 100%;
}
@media (width < 900px) {
  .grid {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
}
</style>
