<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { guide, PAGE_TITLES, pageFor } from './guide'

/** The guide that ships with the program, open at the page of the place; its links lead on within it. */
const open = defineModel<boolean>({ required: true })
const route = useRoute()
const name = ref('tour')
const html = ref('')
const problem = ref('')
const shown = ref<HTMLElement>()
const pages = computed(() =>
  Object.keys(guide).sort((a, b) => (PAGE_TITLES[a] ?? a).localeCompare(PAGE_TITLES[b] ?? b)),
)

async function show(page: string, mark = '') {
  problem.value = ''
  try {
    const [{ marked }, text] = await Promise.all([import('marked'), guide[page]!()])
    html.value = await marked.parse(text)
    name.value = page
  } catch {
    problem.value = 'This page of the guide didn’t load because the server isn’t responding.'
  }
  const heading = mark ? [...(shown.value?.querySelectorAll('h2, h3') ?? [])].find((h) => slug(h) === mark) : null
  ;(heading ?? shown.value)?.scrollIntoView()
}
const slug = (h: Element) =>
  (h.textContent ?? '')
    .toLowerCase()
    .replace(/[^a-z0-9 ]/g, '')
    .replace(/ /g, '-')

/** A link to another page of the guide stays here; any other leads out of it. */
function follow(event: MouseEvent) {
  const link = (event.target as Element).closest('a')
  const found = link?.getAttribute('href')?.match(/^([\w-]*)(?:\.md)?(?:#([\w-]+))?$/)
  if (!link || !found) return
  event.preventDefault()
  void show(found[1] && guide[found[1]] ? found[1] : name.value, found[2])
}

watch(open, (now) => {
  if (now) void show(pageFor(String(route.name ?? '')))
})
</script>

<template>
  <el-drawer v-model="open" title="Guide" size="min(620px, 100vw)" append-to-body>
    <nav aria-label="Pages of the guide" class="pages">
      <el-button v-for="p in pages" :key="p" class="link" :aria-pressed="p === name" @click="show(p)">{{
        PAGE_TITLES[p] ?? p
      }}</el-button>
    </nav>
    <p v-if="problem" role="alert">{{ problem }}</p>
    <!-- eslint-disable-next-line vue/no-v-html -- our own pages, built into the program -->
    <article ref="shown" class="guide" @click="follow" v-html="html" />
  </el-drawer>
</template>

<style scoped>
.pages {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding-bottom: 10px;
  border-bottom: 1px solid var(--line);
}
.pages button {
  min-height: 28px;
}
.pages [aria-pressed='true'] {
  font-weight: 700;
}
.guide {
  font-size: 15px;
  line-height: 1.5;
}
.guide :deep(h1) {
  margin: 14px 0 6px;
}
.guide :deep(h2) {
  margin: 18px 0 4px;
}
.guide :deep(table) {
  display: block;
  overflow-x: auto;
  border-collapse: collapse;
}
.guide :deep(td),
.guide :deep(th) {
  padding: 4px 8px;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: top;
}
.guide :deep(img) {
  display: none;
}
.guide :deep(code) {
  font-size: 13px;
}
</style>
