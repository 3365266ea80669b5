<script setup lang="ts">
import { clock as clockText } from '@/shared/units/format'
import { ref, defineAsyncComponent } from 'vue'
import HouseTabs from '@/features/house/HouseTabs.vue'
import MeterNext from '@/features/house/components/MeterNext.vue'
import { useSession } from '@/shared/session/session'
import { useRoute, useRouter } from 'vue-router'
import BrokerPanel from './components/BrokerPanel.vue'
import FlipRound from './components/FlipRound.vue'
import PanelMonitor from './components/PanelMonitor.vue'
import PlugMeter from './components/PlugMeter.vue'
import { SPEED_WORDS, useInstruments } from './instruments'

const ImportDialog = defineAsyncComponent(() => import('@/features/house/components/ImportDialog.vue'))
const { verdict } = useSession()
const { seen, none, set, clock } = useInstruments()
const importing = ref(false)
const route = useRoute()
const router = useRouter()
const open = (load: string) =>
  void router.push({ name: 'house', params: route.params, query: { ...route.query, load } })
</script>

<template>
  <div class="place">
    <header>
      <div>
        <h1>House</h1>
        <HouseTabs />
      </div>
      <div class="tools">
        <el-button class="btn" @click="importing = true">Import meter data</el-button>
      </div>
    </header>
    <template v-if="none">
      <p class="none">{{ none }}</p>
      <div class="scroll">
        <BrokerPanel />
        <FlipRound @set="() => {}" />
      </div>
    </template>
    <template v-else-if="seen">
      <p class="time">
        <b>These instruments are simulated</b>, on a made-up house that draws like yours. Its clock says
        {{ clockText(clock) }} and runs
        <el-radio-group
          class="speeds"
          aria-label="Clock speed"
          :model-value="seen.speed"
          @change="set({ speed: Number($event) })"
        >
          <el-radio v-for="s in seen.speeds" :key="s" :value="s">{{ SPEED_WORDS[s] }}</el-radio>
        </el-radio-group>
      </p>
      <div class="columns wraps-late">
        <div class="scroll left">
          <PlugMeter :seen="seen" @set="set" />
          <MeterNext v-if="verdict?.measures.length" :verdict="verdict" @open="open" />
          <FlipRound :seen="seen" @set="set" />
        </div>
        <div class="scroll right">
          <BrokerPanel />
          <PanelMonitor v-if="seen.breakers.length" :seen="seen" @set="set" />
          <p v-else class="soft">This home has no panel yet, so a panel monitor can’t be connected.</p>
        </div>
      </div>
    </template>
    <p v-else class="soft" role="status">Looking for instruments…</p>
    <ImportDialog v-if="importing" @close="importing = false" />
  </div>
</template>

<style scoped>
.time {
  margin: 0 0 12px;
  padding: 7px 12px;
  border-left: 4px solid var(--line-strong);
  background: var(--sheet);
}
.speeds {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
.left,
.right {
  flex: 1;
  min-width: 0;
}
.left {
  flex: 0 1 470px;
}
@media (min-width: 761px) and (max-width: 1000px) {
  .left,
  .right {
    flex: 1 1 100%;
  }
}
.none {
  max-width: 60ch;
}
</style>
