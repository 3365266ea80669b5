<script setup lang="ts">
/** Ways to put panels up, by room, angle and hours of work; and what to ask of used ones. */
const MOUNTS = [
  [
    'On the ground, with weights',
    'much space, without shade',
    'any direction, tilted by season',
    'a weekend',
    'wind lifts frames that are too light',
  ],
  [
    'On a shed or carport',
    'none, if it is rated for them',
    'the roof’s',
    'a weekend or two',
    'roof strength, and safe access',
  ],
  ['On a fence or wall', 'none', 'upright: good in winter and under snow', 'a day', 'cable within children’s reach'],
  ['On the house’s roof', 'none', 'the roof’s', 'hired', 'fire setbacks, permit, a switch to shut panels off'],
  [
    'Folded, set out by hand',
    'none, stored indoors',
    'turned by hand all day',
    'minutes each time',
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
          <th scope="col">Watch for</th>
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
      For used panels, ask who sells them and why. Look for cracks, burnt joints and cloudy backs. Measure open volts
      and short-circuit amps in full sun, compare them with the label, and work out the price per measured watt. Enter
      them under Equipment with what you measured; write down each year’s best noon, so that ageing shows.
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
