<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import type { Verdict } from '@/shared/api/types'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import Fig from '@/shared/ui/Fig.vue'
import BandPicture from './BandPicture.vue'
import LiveWords from './LiveWords.vue'
import MoveChips from './MoveChips.vue'
import PairSwitcher from '@/app/PairSwitcher.vue'
import TurnBack from './TurnBack.vue'
import VerdictWords from './VerdictWords.vue'

const { verdict, pouring, home, pair } = useSession()
// While an outage is on, the bar says what can be counted on now, not what a plan promises.
const now = useHomeQuery('/api/homes/{home_id}/live', {
  query: () => ({ outage: pair.value.outage }),
  enabled: () => !!home.value?.live && !!pair.value.outage,
  every: 60_000,
}).view
const live = computed(() => (home.value?.live ? (now.value?.headline ?? null) : null))
const sheet = ref(false)

/** What has changed is said once it stands, for who cannot see it: not while it is worked out, not for what is said already. */
const SETTLED_MS = 700
const said = ref('')
let settling = 0
function spoken(v: Verdict) {
  const first = v.neck ? `; ${v.neck.kind === 'next' ? 'would give out next' : 'gives out first'}: ${v.neck.title}` : ''
  return `${v.headline.short}${first}.`
}
watch(
  () => (verdict.value ? spoken(verdict.value) : ''),
  (now, before) => {
    window.clearTimeout(settling)
    if (now && before) settling = window.setTimeout(() => (said.value = now), SETTLED_MS)
  },
)
/** The figures that stand are older than the last edit: told in words too, where it takes longer than a blink. */
const SLOW_MS = 400
const old = ref(false)
let slow = 0
watch(pouring, (now) => {
  window.clearTimeout(slow)
  if (!now) old.value = false
  else slow = window.setTimeout(() => (old.value = true), SLOW_MS)
})
onUnmounted(() => [settling, slow].forEach((t) => window.clearTimeout(t)))
</script>

<template>
  <section aria-label="Verdict" :class="{ pouring }" :aria-busy="pouring">
    <p class="sr" role="status">{{ said }}</p>
    <p v-if="old && verdict" class="old">the last result, while Imbuto recalculates</p>
    <div class="wide">
      <PairSwitcher />
      <LiveWords v-if="live" :headline="live" />
      <template v-else-if="verdict">
        <VerdictWords :verdict="verdict" />
        <BandPicture v-if="verdict.fits" :verdict="verdict" />
        <div v-if="verdict.neck" class="neck">
          <span class="quiet">{{
            verdict.neck.kind === 'next' ? 'What would give out next' : 'What gives out first'
          }}</span>
          <strong :class="{ life: verdict.neck.kind === 'life' }" :title="verdict.neck.sentence">{{
            verdict.neck.title
          }}</strong>
        </div>
        <MoveChips :verdict="verdict" />
      </template>
    </div>
    <el-button class="line" :aria-expanded="sheet" @click="sheet = true">
      <strong v-if="live" :class="{ bad: live.off }">{{ live.label }} {{ live.figure }}</strong>
      <strong v-else-if="!verdict">Calculating…</strong>
      <strong v-else :class="{ bad: !verdict.fits && verdict.neck }"
        >{{ verdict.headline.label }}
        <Fig v-if="verdict.headline.figure" :text="verdict.headline.figure" quantity="count_on"
      /></strong>
      <span v-if="live">{{ live.next }}</span>
      <span v-else-if="verdict">{{ verdict.headline.life || verdict.headline.missing || verdict.neck?.title }}</span>
      <span aria-hidden="true">▴</span>
    </el-button>
    <el-drawer v-model="sheet" direction="btt" size="auto" :with-header="false" class="verdict-sheet">
      <div class="sheet">
        <PairSwitcher />
        <TurnBack />
        <LiveWords v-if="live" :headline="live" />
        <template v-else-if="verdict">
          <VerdictWords :verdict="verdict" />
          <BandPicture v-if="verdict.fits" :verdict="verdict" />
          <div v-if="verdict.neck">
            <span class="quiet">What gives out first</span><br />
            <strong>{{ verdict.neck.title }}</strong>
            <p>{{ verdict.neck.sentence }}</p>
          </div>
          <MoveChips :verdict="verdict" />
        </template>
      </div>
    </el-drawer>
  </section>
</template>

<style scoped>
section {
  position: relative;
  background: var(--bar);
  color: var(--on-deep);
}
section.pouring::before {
  content: '';
  position: absolute;
  inset: 0 auto auto 0;
  width: 30%;
  height: 2px;
  background: var(--gain);
  animation: pour 0.7s ease-in-out infinite;
}
@keyframes pour {
  to {
    transform: translateX(330%);
  }
}
.old {
  position: absolute;
  right: 20px;
  bottom: 100%;
  margin: 0;
  padding: 2px 9px;
  border-radius: 6px 6px 0 0;
  background: var(--bar);
  font-size: 12.5px;
}
.wide {
  display: flex;
  align-items: center;
  gap: 20px;
  min-height: 76px;
  padding: 4px 20px;
}
.quiet {
  font-size: 12.5px;
  color: var(--on-deep-soft);
}
.neck {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  flex: 0 1 auto;
  min-width: 130px;
  max-width: 200px;
}
.neck strong {
  min-width: 0;
  font: 650 16px/1.2 var(--head);
}
.neck .life {
  color: var(--dark-on-bar);
}
.line {
  display: none;
}
.sheet {
  display: grid;
  gap: 14px;
}
@media (max-width: 760px) {
  .wide {
    display: none;
  }
  .line {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 12px;
    width: 100%;
    height: 44px;
    padding: 0 14px;
    border: 0;
    background: none;
    color: inherit;
    text-align: left;
  }
  .line strong {
    font: 650 19px var(--head);
    white-space: nowrap;
  }
  .line span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .bad {
    color: var(--dark-on-bar);
  }
}
</style>

<style>
.verdict-sheet.el-drawer {
  background: var(--bar);
  color: var(--on-deep);
}
</style>
