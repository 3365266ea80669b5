<script setup lang="ts">
/** Ways to put panels up, by room, angle and hours of work; and what to ask of used ones. */
const MOUNTS = [
  [
    'On the ground, weighted',
    'much, and unshaded',
    'chosen freely, tilted to the season',
    'a weekend',
    'wind lifts what is too light',
  ],
  [
    'On a shed or carport',
    'none, if it is rated for them',
    'the roof’s',
    'a weekend or two',
    'what holds the roof, and who may climb',
  ],
  ['On a fence or wall', 'none', 'upright: good in winter and under snow', 'a day', 'cable at hand height; children'],
  ['On the house’s roof', 'none', 'the roof’s', 'hired', 'fire setbacks, permit, a switch to shut panels off'],
  [
    'Folded, set out by hand',
    'none, kept indoors',
    'turned by hand all day',
    'minutes, each time',
    'someone at home, and dry, calm weather',
  ],
] as const
</script>

<template>
  <details class="mounts">
    <summary>Mounts compared, and used panels</summary>
    <table aria-label="Mounts compared">
      <thead>
        <tr>
          <th scope="col">Mount</th>
          <th scope="col">Room</th>
          <th scope="col">Angle</th>
          <th scope="col">Work</th>
          <th scope="col">Mind</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in MOUNTS" :key="m[0]">
          <th scope="row">{{ m[0] }}</th>
          <td v-for="cell in m.slice(1)" :key="cell">{{ cell }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft small">
      Used panels: ask who sold them and why, look for cracks, burnt joints and cloudy backs, measure open volts and
      short-circuit amps in full sun and compare them with the label, and work out the price for each watt measured.
      Enter them under Equipment with what you measured; write down each year’s best noon, so that ageing shows.
    </p>
  </details>
</template>

<style scoped>
.mounts {
  margin-top: 8px;
}
summary {
  cursor: pointer;
}
table {
  margin: 4px 0;
  border-collapse: collapse;
  font-size: 13px;
}
th,
td {
  padding: 3px 12px 3px 0;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
  text-align: left;
  vertical-align: top;
}
thead th {
  color: var(--soft);
}
@media (max-width: 760px) {
  .mounts {
    overflow-x: auto;
  }
}
</style>
