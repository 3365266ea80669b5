<script setup lang="ts">
import { computed, ref } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import StormHead from './StormHead.vue'
import PrintLink from '@/shared/ui/PrintLink.vue'

/** What is switched in which order, worked out from how the plan is joined. */
const { plan, pair } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/cards', {
  query: () => ({ plan: pair.value.plan }),
  enabled: () => !!pair.value.plan,
})
const cards = computed(() => query.data.value ?? [])
const asked = ref('over')
const card = computed(() => cards.value.find((c) => c.kind === asked.value) ?? cards.value[0] ?? null)
/** Whose hands, said once where they are the same all the way. */
const hands = computed(() => {
  const all = new Set((card.value?.steps ?? []).map((s) => s.by).filter(Boolean))
  return all.size === 1 ? ([...all][0] ?? '') : ''
})
</script>

<template>
  <div class="place cards">
    <StormHead><PrintLink sheet="run-card" /></StormHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <p v-else-if="query.isPending.value" class="soft" role="status">Working out the steps…</p>
    <template v-else-if="card">
      <nav class="segments" aria-label="Cards">
        <el-button v-for="c in cards" :key="c.kind" :aria-pressed="c.kind === card.kind" @click="asked = c.kind">
          {{ c.title }}
        </el-button>
      </nav>
      <article class="scroll" tabindex="0" :aria-label="card.title">
        <h2>
          {{ card.title }} <small class="soft">{{ plan?.name }}</small>
        </h2>
        <section class="stops" aria-label="First">
          <h3>First: if any of these is true, touch nothing</h3>
          <ul>
            <li v-for="s in card.stops" :key="s">{{ s }}</li>
          </ul>
        </section>
        <p v-if="hands && !card.refused">Who switches: {{ hands }}.</p>
        <p v-if="card.refused" class="refused" role="alert">{{ card.refused }}</p>
        <p v-else-if="!card.steps.length" class="soft">This plan powers nothing yet, so there is nothing to switch.</p>
        <ol v-else class="steps">
          <li v-for="(s, i) in card.steps" :key="i">
            <b>{{ s.what }}</b>
            <dl>
              <template v-if="s.where"
                ><dt>Where</dt>
                <dd>{{ s.where }}</dd></template
              >
              <template v-if="s.by && !hands"
                ><dt>By</dt>
                <dd>{{ s.by }}</dd></template
              >
              <template v-if="s.proof"
                ><dt>It worked when</dt>
                <dd>{{ s.proof }}</dd></template
              >
              <template v-if="s.leave"
                ><dt>Careful</dt>
                <dd class="leave">{{ s.leave }}</dd></template
              >
            </dl>
          </li>
        </ol>
        <section v-if="card.off.length" class="off">
          <h3>These stay off</h3>
          <p>{{ card.off.join(' · ') }}</p>
        </section>
        <p class="soft small">
          These steps come from this plan’s connections. The calculation fits, but no one has inspected the wiring, and
          this is not an approval or a permit. Practice it by day, after an electrician has checked the installation.
        </p>
      </article>
    </template>
    <p v-else class="soft">No station yet. Choose one under Power source to see the switching steps.</p>
  </div>
</template>

<style scoped>
article {
  max-width: 860px;
  margin-top: 10px;
}
h2 small {
  font: 400 14px var(--text);
}
.stops {
  margin: 8px 0 12px;
  padding: 8px 14px;
  border: 2px solid var(--ink);
  border-radius: 9px;
}
.stops ul {
  margin: 4px 0 0;
  padding-left: 18px;
}
.refused {
  padding: 8px 12px;
  border-left: 6px solid var(--dark);
  background: var(--sheet);
}
.steps {
  display: grid;
  gap: 8px;
  margin: 0;
  padding: 0;
  counter-reset: step;
  list-style: none;
}
.steps > li {
  position: relative;
  padding: 8px 12px 8px 58px;
  border: 1px solid var(--line);
  border-radius: 8px;
  background: var(--sheet);
  counter-increment: step;
  break-inside: avoid;
}
.steps > li::before {
  content: counter(step);
  position: absolute;
  top: 4px;
  left: 8px;
  width: 38px;
  font: 650 24px var(--head);
  text-align: right;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 1px 10px;
  margin: 3px 0 0;
  font-size: 13.5px;
}
dt {
  color: var(--soft);
}
dd {
  margin: 0;
}
.leave {
  font-weight: 650;
}
.off {
  margin-top: 12px;
}
@media (max-width: 760px) {
  dl {
    grid-template-columns: 1fr;
  }
  dt {
    margin-top: 2px;
  }
}
</style>
