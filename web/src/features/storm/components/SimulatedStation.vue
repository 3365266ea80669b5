<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Source } from '@/shared/api/types'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { heard, useSession } from '@/shared/session/session'
import { clock, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** The simulated station of a demo home: a stand-in for one that tells what it shows, on a clock that can run fast. */
const props = defineProps<{ sources: Source[]; nameOf: (id: string) => string }>()
const { state, pair, station, plan } = useSession()
const demo = computed(() => /^(saltgrass-house|via-dei-glicini)/.test(state.value?.id ?? ''))
const busy = ref(false)
const problem = ref('')
const whose = ref('')
const first = useHomeQuery('/api/homes/{home_id}/station', { enabled: demo, followsEdits: false, keep: false })
watch(first.data, (view) => view && heard(view))
async function ask(body: { source?: string; speed?: number; away?: boolean }) {
  busy.value = true
  problem.value = ''
  try {
    const params = { path: { home_id: state.value?.id ?? '' } }
    heard(
      await answer(
        api.POST('/api/homes/{home_id}/station', {
          params,
          body: { ...pair.value, charge: 0.9, away: false, source: null, speed: null, ...body },
        }),
      ),
    )
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
  busy.value = false
}
const SPEEDS: Record<number, string> = { 1: 'real time', 60: 'an hour per minute', 1440: 'a day per minute' }
const choices = computed(() => props.sources.filter((s) => plan.value?.sources[s.id]))
</script>

<template>
  <details v-if="demo" class="sim" :open="!!station">
    <summary>A simulated station</summary>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <template v-if="station">
      <p v-if="station.lost" role="alert">{{ station.name }} isn’t responding. Remove it and start again.</p>
      <p v-else aria-live="off">
        {{ station.name }}, simulated: <Fig :text="percent(station.charge)" />,
        <Fig :text="`${number(station.out_w)} W`" /> out, <Fig :text="`${number(station.in_w)} W`" /> in,
        {{ station.grid ? 'grid there' : 'no grid' }}, its clock {{ clock(station.at ?? '') }}.
      </p>
      <p>
        <el-button
          v-for="s in station.speeds"
          :key="s"
          class="btn"
          :aria-pressed="station.speed === s"
          :disabled="busy"
          @click="ask({ speed: s })"
        >
          {{ SPEEDS[s] ?? `${s} times` }}
        </el-button>
        <el-button class="link" :disabled="busy" @click="ask({ away: true })">Remove it</el-button>
      </p>
    </template>
    <template v-else>
      <p class="soft">
        This replaces a station that reports its display. It is made up, and its capacity, own use and loads differ from
        the label and the plan. While it runs, this home uses its clock.
      </p>
      <el-select v-if="choices.length > 1" v-model="whose" aria-label="Replaces" :placeholder="nameOf(choices[0]!.id)">
        <el-option v-for="s in choices" :key="s.id" :value="s.id" :label="nameOf(s.id)" />
      </el-select>
      <el-button class="btn" :disabled="busy || !choices.length" @click="ask({ source: whose || choices[0]!.id })">
        {{ busy ? 'It begins…' : 'Watch a simulated one' }}
      </el-button>
    </template>
  </details>
</template>

<style scoped>
.sim {
  margin: 18px 0 6px;
  padding: 8px 12px;
  border: 1px dashed var(--line-strong);
  border-radius: 8px;
}
summary {
  min-height: 28px;
  cursor: pointer;
}
.btn {
  margin-right: 8px;
  min-height: 40px;
}
.btn[aria-pressed='true'] {
  border-width: 3px;
  font-weight: 650;
}
</style>
