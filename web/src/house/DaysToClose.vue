<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { dayText, several } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import FileField from '@/shared/FileField.vue'
import Choice from '@/shared/Choice.vue'

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
function chosen([file]: File[]) {
  if (file) void read.go(file)
}
function tick(day: string, on: boolean) {
  ticked.value = on ? [...ticked.value, day] : ticked.value.filter((one) => one !== day)
}
</script>

<template>
  <section class="stack tight">
    <h2>Bring days in</h2>
    <form class="row" @submit.prevent="holidays.go()">
      <label>
        Public holidays of
        <Choice
          v-model="country"
          :options="(countries.data.value ?? []).map((one) => ({ value: one.code, words: one.name }))"
          placeholder="choose a country"
        />
      </label>
      <label v-if="regions.length">
        region
        <Choice v-model="region" :options="regions" nothing="all of it" none="" />
      </label>
      <el-button :disabled="!country || holidays.busy.value" native-type="submit"
        >Look at {{ year }}</el-button
      >
      <span v-if="!country" class="quiet">Choose a country first.</span>
    </form>
    <p>
      <label>
        or
        <FileField
          words="a calendar file (.ics)"
          label="A calendar file"
          accept=".ics,text/calendar"
          @chosen="chosen"
        />
      </label>
    </p>
    <Problem :error="holidays.error.value ?? read.error.value ?? close.error.value" />
    <template v-if="found">
      <table class="ledger">
        <tbody>
          <tr v-for="one in found" :key="one.day">
            <td>
              <el-checkbox
                :model-value="ticked.includes(one.day)"
                @change="(on: unknown) => tick(one.day, on === true)"
                >{{ dayText(one.day) }}</el-checkbox
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
        <el-button :disabled="!ticked.length || close.busy.value" type="primary" @click="close.go()">
          Close {{ several(ticked.length, 'day', 'days') }}
        </el-button>
        <el-button @click="found = null">Cancel</el-button>
        <span v-if="!ticked.length" class="quiet">No day is ticked.</span>
      </p>
    </template>
  </section>
</template>
