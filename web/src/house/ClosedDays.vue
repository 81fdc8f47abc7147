<script setup lang="ts">
import { dayIn } from '@/shared/days'
import { useMe } from '@/shared/session'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { dayText } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import DayField from '@/shared/DayField.vue'
import { useDraft } from '@/shared/unsaved'

/** Days on which starts are skipped or moved, as each trigger says. */
const props = defineProps<{ area: number | null; days: { day: string; name: string }[]; change: boolean }>()
const day = ref('')
const name = ref('')
const all = ref(false)
const { zone } = useMe()
const today = dayIn(zone.value)
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
useDraft('The closed day', () => `closed-${props.area ?? 0}`, { day, name })
</script>

<template>
  <div class="stack tight">
    <p v-if="!days.length" class="quiet">None.</p>
    <p v-else class="days">
      <span v-for="one in shown" :key="one.day"
        >{{ dayText(one.day) }} <span class="quiet">{{ one.name }}</span>
        <el-button
          v-if="change"
          :aria-label="`take out ${dayText(one.day)}`"
          link
          type="primary"
          @click="open.go(one.day)"
        >
          take out
        </el-button></span
      >
    </p>
    <p v-if="shown.length < days.length" class="quiet">
      {{ days.length - shown.length }} earlier ones are kept.
      <el-button link type="primary" @click="all = true">Show them</el-button>
    </p>
    <form v-if="change" class="row" @submit.prevent="close.go()">
      <DayField v-model="day" label="Closed day" />
      <el-input v-model="name" aria-label="What day it is" placeholder="What day it is" />
      <el-button :disabled="close.busy.value || !day || !name.trim()" native-type="submit"
        >Add the day</el-button
      >
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
