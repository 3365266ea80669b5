import type { Circuit, Feed, Home, HomeState, Load, Outage, Plan, TransferEquipment, Verdict } from '@/shared/api/types'
import { newCircuit, newLoad } from '@/features/house/model'

/** Small documents for tests. */
export function load(id: string, more: Partial<Load> = {}): Load {
  return { ...newLoad(id, null, ''), name: id[0]?.toUpperCase() + id.slice(1), ...more }
}

export function circuit(id: string, slots: number[], more: Partial<Circuit> = {}): Circuit {
  return { ...newCircuit(id, slots[0] ?? 1), name: `Circuit ${id}`, slots, ...more }
}

export function feed(id: string, place: number, more: Partial<Feed> = {}): Feed {
  return {
    id,
    source: 'main',
    circuit: id,
    load: null,
    port: 'ac',
    port_v: 0,
    device: null,
    place,
    stance: 'keep_on',
    windows: [],
    share: 0.5,
    turn_by: 'clock',
    above: 0.5,
    cord: null,
    ...more,
  }
}

export function plan(feeds: Feed[] = [], more: Partial<Plan> = {}): Plan {
  return {
    id: 'p',
    name: 'Plan',
    status: 'draft',
    based_on: null,
    devices: {
      main: {
        id: 'main',
        equipment: 'ten-place',
        source: 'main',
        panel: null,
        behind: null,
        cord: null,
        bypassed: false,
        left_on: false,
      },
    },
    sources: {
      main: {
        id: 'main',
        station: 'hogshead',
        modules: 0,
        module: null,
        units: 1,
        link: 'parallel',
        spot: 'indoors',
        deliverable: 0.97,
        health: 1,
        drive_wh: 0,
        owned: false,
        plugged_into: null,
        after: null,
        charge_w: null,
        charge_circuit: null,
        away: null,
      },
    },
    feeds: Object.fromEntries(feeds.map((f) => [f.id, f])),
    load_choices: {},
    settings: {},
    not_together: [],
    floor: 0.1,
    losses: 'percent_and_idle',
    reasons: {},
    ticks: [],
    banks: {},
    opened: {},
    engine: null,
    reaction_h: 0.5,
    asleep: [{ start_h: 23, end_h: 7, days: 'all' }],
    below_floor: false,
    lives: {},
    note: '',
    ...more,
  } as Plan
}

export const outage = {
  id: 'o',
  name: 'Outage',
  start: '2026-11-24T18:00:00',
  hours: 24,
  goal_hours: 24,
} as Outage

export function home(circuits: Circuit[] = [], loads: Load[] = [], legs: 1 | 2 = 2): Home {
  return {
    id: 'h',
    name: 'Home',
    service: { volts: legs === 2 ? 120 : 230, legs, main_a: 200, slots: 40, contracted_w: null },
    site: { currency: 'USD', time_zone: 'UTC' },
    alert: null,
    live: null,
    lived: {},
    panels: {},
    circuits: Object.fromEntries(circuits.map((c) => [c.id, c])),
    loads: Object.fromEntries(loads.map((l) => [l.id, l])),
    catalogue: { stations: {}, transfer: {} },
    household: {
      harms: [],
      history: { months: [] },
      people: {},
      drills: {},
      existing: {},
      panel: {},
      persons: 2,
      stored_water_l: 0,
      walk: null,
    },
    note: '',
  } as unknown as Home
}

export function homeState(rev: number, more: Partial<HomeState> = {}): HomeState {
  return {
    id: 'h',
    rev,
    home: home(),
    plans: [plan()],
    outages: [outage],
    undo: null,
    undo_edit: null,
    redo_edit: null,
    redo: null,
    trial: false,
    ...more,
  }
}

export const tenPlace = {
  id: 'ten-place',
  name: 'Ten-place manual switch',
  kind: 'manual_switch',
  places: 10,
  place_legs: 'ABABABABAB',
} as TransferEquipment

const WORDS: Record<Verdict['state'], string> = {
  no_loads: 'No loads yet',
  nothing_chosen: 'This plan powers nothing yet',
  no_station: 'No station yet',
  refused: 'Refused',
  carry_240: "Can't supply 240 V",
  trips: 'Will trip',
  misfit: "Doesn't fit",
  too_cold: 'Too cold to run',
  runs: 'Fits',
}
/** The words of an answer: hours where it fits, else its state. */
export function headline(state: Verdict['state'], more: Partial<Verdict['headline']> = {}): Verdict['headline'] {
  const runs = state === 'runs'
  return {
    label: runs ? 'Count on' : WORDS[state],
    figure: runs ? '15 h' : '',
    until: runs ? 'Wed 9:00 am' : '',
    probably: runs ? 'probably 18 h 10 m' : '',
    goal: runs ? 'goal 24 h, reached about 1 time in 3' : '',
    life: '',
    may: '',
    may_first: false,
    missing: '',
    instead: '',
    short: runs ? 'Count on 15 h, probably 18 h 10 m' : WORDS[state],
    sentence: runs ? 'Count on 15 h, probably 18 h 10 m; goal 24 h, reached about 1 time in 3' : WORDS[state],
    ...more,
  }
}
export function verdict(more: Partial<Verdict> = {}): Verdict {
  return {
    plan: 'p',
    outage: 'o',
    plan_name: 'Plan',
    circuits: [],
    boards: [],
    unknowns: [],
    feed_legs: {},
    outage_name: 'Outage',
    state: 'runs',
    words: WORDS[more.state ?? 'runs'],
    headline: headline(more.state ?? 'runs'),
    unfed: [],
    reaches: false,
    fits: true,
    hours: 18.2,
    until: '2026-11-25T12:10:00+00:00',
    low_hours: 15,
    high_hours: 22,
    simulated_h: 48,
    goal_hours: 24,
    chance: 0.3,
    neck: { id: 'energy:store', kind: 'energy', title: 'Stored energy, night 1', sentence: '' },
    chips: [],
    moves: [],
    limits: [],
    measures: [],
    loads: [],
    riders: [],
    reminders: [],
    parts: [],
    rail: {
      house_wh_day: 31_600,
      loads: 38,
      circuits: 26,
      traced: 25,
      slots: 40,
      chosen_wh_day: 7_400,
      places_used: 9,
      places: 10,
      place_word: 'places',
      station: 'Hogshead',
      nominal_wh: 12_400,
      continuous_w: 5000,
      leg_a: 25,
      legs: 2,
    },
    ...more,
  } as Verdict
}
