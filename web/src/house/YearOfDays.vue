<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { dayText, writtenAs } from '@/shared/format'

/** Twelve months of days; a closed one is struck through, one of the company stays closed for its areas. */
const props = defineProps<{
  year: number
  days: Schemas['ClosedOut'][]
  months: number[]
  today: string
  change: boolean
}>()
const emit = defineEmits<{ toggle: [day: string] }>()
const closed = computed(() => new Map(props.days.map((one) => [one.day, one])))
const format = computed(() => new Intl.DateTimeFormat(writtenAs(), { month: 'long', timeZone: 'UTC' }))
const letters = computed(() => {
  const short = new Intl.DateTimeFormat(writtenAs(), { weekday: 'narrow', timeZone: 'UTC' })
  // 5 January 2026 is a Monday.
  return Array.from({ length: 7 }, (_, n) => short.format(new Date(Date.UTC(2026, 0, 5 + n))))
})
interface Day {
  day: string
  number: number
  weekend: boolean
}
const months = computed(() =>
  Array.from({ length: 12 }, (_, month) => {
    const first = new Date(Date.UTC(props.year, month, 1))
    const count = new Date(Date.UTC(props.year, month + 1, 0)).getUTCDate()
    const days = Array.from({ length: count }, (_, n): Day => {
      const date = new Date(Date.UTC(props.year, month, n + 1))
      return {
        day: date.toISOString().slice(0, 10),
        number: n + 1,
        weekend: date.getUTCDay() === 0 || date.getUTCDay() === 6,
      }
    })
    return { name: format.value.format(first), before: (first.getUTCDay() + 6) % 7, days }
  }),
)
function words(one: Day): string {
  const there = closed.value.get(one.day)
  if (there) return `${dayText(one.day)}: closed, ${there.name}${there.own ? '' : `, of ${there.of}`}`
  return `${dayText(one.day)}: ${one.weekend ? 'weekend' : 'working day'}`
}
</script>

<template>
  <div class="year">
    <section v-for="(month, m) in months" :key="month.name" class="month">
      <h3>
        {{ month.name }} <span class="quiet">{{ props.months[m] }} days</span>
      </h3>
      <div class="grid">
        <span v-for="(letter, n) in letters" :key="n" class="head" aria-hidden="true">{{ letter }}</span>
        <span v-for="n in month.before" :key="`b${n}`" />
        <button
          v-for="one in month.days"
          :key="one.day"
          type="button"
          :class="{
            weekend: one.weekend,
            closed: closed.has(one.day),
            above: closed.get(one.day)?.own === false,
            today: one.day === today,
          }"
          :disabled="!change || closed.get(one.day)?.own === false"
          :aria-label="words(one)"
          :aria-pressed="closed.has(one.day)"
          :title="words(one)"
          @click="emit('toggle', one.day)"
        >
          {{ one.number }}
        </button>
      </div>
    </section>
  </div>
</template>

<style scoped>
.year {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(186px, 1fr));
  gap: 16px 24px;
}
h3 {
  font: 600 14px var(--title-face);
  margin: 0 0 4px;
  display: flex;
  justify-content: space-between;
}
.grid {
  display: grid;
  grid-template-columns: repeat(7, 1fr);
  font-variant-numeric: tabular-nums;
}
.head {
  text-align: center;
  font-size: 11px;
  color: var(--ink-3);
}
.grid button {
  border: 0;
  background: none;
  padding: 2px 0;
  min-width: 0;
  font-size: 12px;
  text-align: center;
  color: var(--ink);
}
.grid button:disabled {
  cursor: default;
}
.grid .weekend {
  color: var(--ink-2);
  background: var(--margin);
}
.grid .closed {
  background: var(--care-soft);
  color: var(--care);
  font-weight: 600;
  text-decoration: line-through;
}
.grid .above {
  border-bottom: 1px dotted var(--care);
}
.grid .today {
  outline: 1px solid var(--ink-2);
}
@media (max-width: 700px) {
  .year {
    grid-template-columns: 1fr;
  }
  .grid button {
    min-height: 40px;
  }
}
</style>
