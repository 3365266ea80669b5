<script setup lang="ts">
import { computed } from 'vue'
import { usePaper } from '@/shared/paper'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { clock } from '@/shared/units/format'
import PapersTabs from './PapersTabs.vue'

/** Sheets to tape up, give, sign and keep; each one is worked out from the plan as it stands. */
const { pair } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/papers', { query: pair, enabled: () => !!pair.value.plan })
const sheets = computed(() => query.data.value ?? [])
const told = useHomeQuery('/api/homes/{home_id}/private', { query: pair, enabled: () => !!pair.value.plan })
/** What a sheet tells that strangers need not know, in the version that is asked for. */
function reveals(sheet: string) {
  const found = told.data.value?.find((x) => x.id === sheet)
  if (!found) return '…'
  return (asked.value.strangers ? found.left : found.reveals).join(', ') || 'nothing private'
}
const { asked, size, at, address, noted } = usePaper()
async function print(sheet: string) {
  await noted(sheet)
  await query.refetch()
}
const labels = computed(() => {
  const said = new URLSearchParams({ plan: pair.value.plan, paper: size.value })
  return `${at.value}/labels?${said.toString()}`
})
</script>

<template>
  <div class="place papers">
    <header>
      <PapersTabs />
      <div class="tools">
        <a class="btn strong" :href="address('pack', 'pdf', true)" download @click="print('pack')"
          >Everything, one PDF</a
        >
        <a class="btn" :href="address('pack', 'html', true)" download>One file to carry away</a>
        <small class="soft" data-test="reveals">Both reveal: {{ reveals('pack') }}</small>
      </div>
    </header>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="query.isPending.value" class="soft" role="status">Loading…</p>
    <div v-else class="scroll">
      <form class="how fields" novalidate @submit.prevent>
        <label>
          Paper
          <el-select v-model="size" aria-label="Paper">
            <el-option value="letter" label="letter" />
            <el-option value="a4" label="A4" />
          </el-select>
        </label>
        <el-checkbox v-model="asked.large">large print</el-checkbox>
        <el-checkbox v-model="asked.strangers">for strangers: no names, numbers, health or absence</el-checkbox>
        <label
          >Printed by <el-input v-model="asked.hand" maxlength="60" placeholder="your name" autocomplete="off"
        /></label>
      </form>
      <table class="sums">
        <thead>
          <tr>
            <th>sheet</th>
            <th>for</th>
            <th>Still missing</th>
            <th>Reveals</th>
            <th><span class="sr">Forms</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in sheets" :key="s.id">
            <td>
              <b>{{ s.title }}</b>
              <small class="soft">{{ s.use }}</small>
              <small v-if="s.printed && s.changed.length" class="changed" role="note">
                Printed {{ s.printed.slice(0, 10) }} {{ clock(s.printed) }}, and changed since:
                {{ s.changed.join('; ') }}
              </small>
              <small v-else-if="s.printed" class="soft"
                >Printed {{ s.printed.slice(0, 10) }}; it says the same today</small
              >
            </td>
            <td>{{ s.whom }}</td>
            <td>{{ s.lacks.length ? s.lacks.join(', ') : 'nothing' }}</td>
            <td data-test="reveals">{{ reveals(s.id) }}</td>
            <td class="acts">
              <a class="btn tiny" :href="address(s.id, 'html')" target="_blank" :aria-label="`Preview of ${s.title}`"
                >Preview</a
              >
              <a
                class="btn tiny"
                :href="address(s.id, 'pdf')"
                target="_blank"
                :aria-label="`${s.title} as PDF`"
                @click="print(s.id)"
                >PDF</a
              >
              <a
                v-for="f in s.also"
                :key="f"
                class="btn tiny"
                :href="address(s.id, f)"
                download
                :aria-label="`${s.title} as ${f === 'ics' ? 'dates' : f}`"
                >{{ f === 'ics' ? 'dates' : f.toUpperCase() }}</a
              >
            </td>
          </tr>
          <tr>
            <td>
              <b>Panel directory and dots</b>
              <small class="soft">To cut and tape</small>
            </td>
            <td>the person who switches</td>
            <td>nothing</td>
            <td data-test="reveals">{{ reveals('directory') }}</td>
            <td class="acts">
              <a class="btn tiny" :href="labels" target="_blank" aria-label="Panel directory and dots as PDF">PDF</a>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="soft small">
        The file to carry away opens from a USB stick, without Imbuto. The calculation fits, but no one has inspected
        the wiring, and no sheet is an approval or a permit.
      </p>
    </div>
  </div>
</template>

<style scoped>
.how {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
}
.how .el-select {
  width: 110px;
}
.sums :where(th, td) {
  text-align: left;
  vertical-align: top;
}
td small {
  display: block;
}
.acts {
  white-space: nowrap;
}
.changed {
  color: var(--dark);
}
.acts a + a {
  margin-left: 6px;
}
</style>
