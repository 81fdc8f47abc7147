<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { dayText } from '@/shared/format'
import Problem from '@/shared/Problem.vue'

/** Public holidays of a country, or the whole days of a calendar file: looked at, ticked, then closed at once. */
const props = defineProps<{ area: number | null; year: number; closed: string[] }>()
const country = ref('')
const region = ref('')
const countries = useQuery({
  queryKey: ['countries'],
  staleTime: Infinity,
  queryFn: () => ask(api.GET('/api/v1/calendars/countries')),
})
const regions = computed(() => countries.data.value?.find((one) => one.code === country.value)?.regions ?? [])
watch(country, () => (region.value = ''))
const found = ref<Schemas['HolidayOut'][] | null>(null)
const ticked = ref<string[]>([])
function show(days: Schemas['HolidayOut'][]) {
  found.value = days
  ticked.value = days.filter((one) => !one.weekend && !props.closed.includes(one.day)).map((one) => one.day)
}
const holidays = useAction(async () => {
  const query = { country: country.value, region: region.value, year: props.year }
  show(await ask(api.GET('/api/v1/calendars/holidays', { params: { query } })))
}, [])
const read = useAction(async (file: File) => {
  found.value = null
  show(await ask(api.POST('/api/v1/calendars/ical/look', { body: { text: await file.text() } })))
}, [])
const close = useAction(async () => {
  const days = (found.value ?? [])
    .filter((one) => ticked.value.includes(one.day))
    .map((one) => ({ day: one.day, name: one.name }))
  await ask(api.POST('/api/v1/calendars/closed-days', { body: { area: props.area, days } }))
  found.value = null
})
watch(
  () => [props.year, props.area],
  () => (found.value = null),
)
function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) void read.go(file)
}
</script>

<template>
  <section class="stack tight">
    <h2>Bring days in</h2>
    <form class="row" @submit.prevent="holidays.go()">
      <label>
        Public holidays of
        <select v-model="country">
          <option value="">choose a country</option>
          <option v-for="one in countries.data.value ?? []" :key="one.code" :value="one.code">
            {{ one.name }}
          </option>
        </select>
      </label>
      <label v-if="regions.length">
        region
        <select v-model="region">
          <option value="">all of it</option>
          <option v-for="one in regions" :key="one">{{ one }}</option>
        </select>
      </label>
      <button :disabled="!country || holidays.busy.value">Look at {{ year }}</button>
      <span v-if="!country" class="quiet">Choose a country first.</span>
    </form>
    <p>
      <label>
        or a calendar file (.ics)
        <input type="file" accept=".ics,text/calendar" @change="chosen" />
      </label>
    </p>
    <Problem :error="holidays.error.value ?? read.error.value ?? close.error.value" />
    <template v-if="found">
      <table class="ledger">
        <tbody>
          <tr v-for="one in found" :key="one.day">
            <td>
              <label
                ><input v-model="ticked" type="checkbox" :value="one.day" /> {{ dayText(one.day) }}</label
              >
            </td>
            <td>{{ one.name }}</td>
            <td class="quiet">
              {{ closed.includes(one.day) ? 'closed already' : one.weekend ? 'on a weekend' : '' }}
            </td>
          </tr>
        </tbody>
      </table>
      <p class="row">
        <button class="filled" :disabled="!ticked.length || close.busy.value" @click="close.go()">
          Close {{ ticked.length }} {{ ticked.length === 1 ? 'day' : 'days' }}
        </button>
        <button @click="found = null">Leave it</button>
        <span v-if="!ticked.length" class="quiet">No day is ticked.</span>
      </p>
    </template>
  </section>
</template>
