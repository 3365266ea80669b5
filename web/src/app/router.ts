import { ref } from 'vue'
import { createRouter, createWebHistory } from 'vue-router'
import { PAGE_NAMES } from '@/shared/pageNames'

const House = () => import('@/features/house/HousePlace.vue')

export const PLACES = ['house', 'chosen', 'source', 'hours'] as const
export type Place = (typeof PLACES)[number]
/** Pages that belong to a place, under its own name. */
export const PAGES_OF: Record<string, string[]> = {
  house: ['house', 'whole', 'meters', 'goals', 'walk'],
  storm: ['storm', 'ready', 'live', 'drill', 'tests', 'book'],
  everyday: ['everyday', 'tariffs', 'worth', 'saved', 'keeping'],
  source: ['source', 'sun', 'fuel', 'joining', 'equipment'],
  papers: ['papers', 'work', 'binder'],
}

/** What each page is called, in the window's title. */
export const TITLES: Record<string, string> = PAGE_NAMES

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'first', component: () => import('@/features/start/FirstPage.vue') },
    { path: '/start', name: 'start', component: () => import('@/features/start/StartPlace.vue') },
    { path: '/one-storm', name: 'one-storm', component: () => import('@/features/start/OneStormPage.vue') },
    { path: '/home/:home', redirect: (to) => `/home/${String(to.params.home)}/house` },
    { path: '/home/:home/house', name: 'house', component: House },
    { path: '/home/:home/meters', name: 'meters', component: () => import('@/features/meters/MetersPlace.vue') },
    { path: '/home/:home/whole', name: 'whole', component: () => import('@/features/whole/WholePlace.vue') },
    { path: '/home/:home/goals', name: 'goals', component: () => import('@/features/goals/GoalsPlace.vue') },
    {
      path: '/home/:home/walk',
      name: 'walk',
      component: () => import('@/features/walk/WalkPlace.vue'),
      meta: { bare: true },
    },
    { path: '/home/:home/chosen', name: 'chosen', component: () => import('@/features/chosen/ChosenPlace.vue') },
    { path: '/home/:home/source', name: 'source', component: () => import('@/features/source/SourcePlace.vue') },
    { path: '/home/:home/sun', name: 'sun', component: () => import('@/features/sun/SunPlace.vue') },
    { path: '/home/:home/fuel', name: 'fuel', component: () => import('@/features/fuel/FuelPlace.vue') },
    {
      path: '/home/:home/equipment',
      name: 'equipment',
      component: () => import('@/features/equipment/EquipmentPlace.vue'),
    },
    { path: '/home/:home/joining', name: 'joining', component: () => import('@/features/joining/JoiningPlace.vue') },
    {
      path: '/home/:home/everyday',
      name: 'everyday',
      component: () => import('@/features/everyday/EverydayPlace.vue'),
    },
    { path: '/home/:home/papers', name: 'papers', component: () => import('@/features/papers/PapersPlace.vue') },
    { path: '/home/:home/work', name: 'work', component: () => import('@/features/papers/WorkPlace.vue') },
    { path: '/home/:home/binder', name: 'binder', component: () => import('@/features/papers/BinderPlace.vue') },
    { path: '/home/:home/tariffs', name: 'tariffs', component: () => import('@/features/everyday/TariffsPlace.vue') },
    { path: '/home/:home/worth', name: 'worth', component: () => import('@/features/everyday/WorthPlace.vue') },
    { path: '/home/:home/saved', name: 'saved', component: () => import('@/features/everyday/SavedPlace.vue') },
    { path: '/home/:home/keeping', name: 'keeping', component: () => import('@/features/everyday/KeepingPlace.vue') },
    { path: '/home/:home/compare', name: 'compare', component: () => import('@/features/compare/ComparePlace.vue') },
    { path: '/home/:home/size', name: 'size', component: () => import('@/features/size/SizePlace.vue') },
    { path: '/home/:home/storm', name: 'storm', component: () => import('@/features/storm/CardsPlace.vue') },
    { path: '/home/:home/ready', name: 'ready', component: () => import('@/features/storm/ReadyPlace.vue') },
    { path: '/home/:home/live', name: 'live', component: () => import('@/features/storm/LivePlace.vue') },
    { path: '/home/:home/tests', name: 'tests', component: () => import('@/features/storm/TestsPlace.vue') },
    { path: '/home/:home/book', name: 'book', component: () => import('@/features/storm/BookPlace.vue') },
    { path: '/home/:home/drill', name: 'drill', component: () => import('@/features/storm/DrillPlace.vue') },
    { path: '/home/:home/hours', name: 'hours', component: () => import('@/features/hours/HoursPlace.vue') },
    { path: '/:rest(.*)', redirect: (to) => ({ path: '/', query: { missing: to.path } }) },
  ],
})

/** Every page's program, fetched while nothing else is wanted: so that each opens though the server stops, and says so itself. */
export async function fetchAhead() {
  for (const route of router.getRoutes()) {
    const load = route.components?.default
    if (typeof load === 'function') await (load as () => Promise<unknown>)().catch(() => undefined)
  }
}
/** Why a page could not be opened at all: its program did not come. */
export const notOpened = ref('')
router.onError((error) => {
  const why = error instanceof Error ? error.message : String(error)
  notOpened.value = /fetch|import|load/i.test(why)
    ? 'This page didn’t open because the server isn’t responding. Check that Imbuto is still running, then try again.'
    : `This page couldn’t be opened: ${why}`
})
router.afterEach(() => (notOpened.value = ''))
