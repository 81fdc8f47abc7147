<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { dayText } from '@/shared/format'
import Problem from '@/shared/Problem.vue'

/** Days on which starts are skipped or moved, as each trigger says. */
const props = defineProps<{ area: number | null; days: { day: string; name: string }[]; change: boolean }>()
const day = ref('')
const name = ref('')
const all = ref(false)
const today = new Date().toISOString().slice(0, 10)
const shown = computed(() => (all.value ? props.days : props.days.filter((one) => one.day >= today)))
const close = useAction(async () => {
  await ask(
    api.POST('/api/v1/areas/closed-days', { body: { area: props.area, day: day.value, name: name.value } }),
  )
  day.value = name.value = ''
})
const open = useAction((which: string) =>
  ask(
    api.DELETE('/api/v1/areas/closed-days/{day}', {
      params: { path: { day: which }, query: { area: props.area } },
    }),
  ),
)
</script>

<template>
  <div class="stack tight">
    <p v-if="!days.length" class="quiet">None.</p>
    <p v-else class="days">
      <span v-for="one in shown" :key="one.day"
        >{{ dayText(one.day) }} <span class="quiet">{{ one.name }}</span>
        <button v-if="change" class="plain" :aria-label="`Work on ${one.day}`" @click="open.go(one.day)">
          take out
        </button></span
      >
    </p>
    <p v-if="shown.length < days.length" class="quiet">
      {{ days.length - shown.length }} earlier ones are kept.
      <button class="plain" type="button" @click="all = true">Show them</button>
    </p>
    <form v-if="change" class="row" @submit.prevent="close.go()">
      <input v-model="day" type="date" aria-label="Closed day" />
      <input v-model="name" type="text" aria-label="What day it is" placeholder="What day it is" />
      <button :disabled="close.busy.value || !day || !name.trim()">Add the day</button>
    </form>
    <Problem :error="close.error.value ?? open.error.value" />
  </div>
</template>

<style scoped>
.days {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
}
</style>
