<script setup lang="ts">
import { reactive, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Source } from '@/shared/api/types'
import { answer, api } from '@/shared/api/client'
import { act, useSession } from '@/shared/session/session'

/** It is out: since when, back by when as is said, and how full each store was. */
const props = defineProps<{ sources: Source[]; nameOf: (id: string) => string }>()
const { home, pair, station } = useSession()
const router = useRouter()
const route = useRoute()
const busy = ref(false)
const form = reactive<{ began: string; back: string; charges: Record<string, number> }>({
  began: '',
  back: '',
  charges: {},
})
/** The charge that is known already, in percent: of a watched station, or as it was read before the storm. */
function known(id: string): number | undefined {
  const read = station.value?.source === id ? station.value.charge : home.value?.alert?.charges?.[id]
  return form.charges[id] ?? (read === undefined || read === null ? undefined : Math.round(100 * read))
}
const missing = ref('')
async function out() {
  const blank = props.sources.find((s) => known(s.id) === undefined)
  missing.value = blank
    ? `Enter the charge of ${props.nameOf(blank.id)}, because all hours depend on it. Read it on the display. If you can’t, enter a low guess.`
    : ''
  if (blank) return
  busy.value = true
  const charges = Object.fromEntries(props.sources.map((s) => [s.id, (known(s.id) ?? 0) / 100]))
  const body = { ...pair.value, began: form.began || null, back_by: form.back || null, charges }
  const begun = await act((home_id, named) =>
    answer(
      api.POST('/api/homes/{home_id}/live', {
        params: { path: { home_id } },
        body: { ...body, edit_id: named.edit_id },
      }),
    ),
  )
  busy.value = false
  // Whoever has just said that the power is out stands before the panel next.
  if (begun) void router.push({ path: `/home/${String(route.params.home)}/storm`, query: route.query })
}
</script>

<template>
  <form class="form" novalidate @submit.prevent="out">
    <template v-for="s in sources" :key="s.id">
      <label :for="`l-${s.id}`">Charge of {{ nameOf(s.id) }} (%)</label>
      <el-input-number
        :id="`l-${s.id}`"
        :model-value="known(s.id)"
        placeholder="?"
        :min="0"
        :max="100"
        @change="form.charges[s.id] = Number($event)"
      />
    </template>
    <label for="l-began">Out since</label>
    <el-date-picker
      id="l-began"
      v-model="form.began"
      :automatic-dropdown="false"
      type="datetime"
      placeholder="just now"
      value-format="YYYY-MM-DDTHH:mm:ss"
    />
    <label for="l-back">Expected back by</label>
    <el-date-picker
      id="l-back"
      v-model="form.back"
      :automatic-dropdown="false"
      type="datetime"
      placeholder="not known"
      value-format="YYYY-MM-DDTHH:mm:ss"
    />
    <p v-if="missing" role="alert" class="missing">{{ missing }}</p>
    <span></span>
    <el-button native-type="submit" class="btn strong out" :disabled="busy || !sources.length"
      >Start an outage</el-button
    >
  </form>
</template>

<style scoped>
.missing {
  grid-column: 1 / -1;
  margin: 0;
}
.form {
  max-width: 460px;
  margin: 12px 0;
}
.out {
  justify-self: start;
  min-height: 48px;
  padding: 0 28px;
  font-size: 17px;
}
</style>
