<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import Problem from '@/shared/Problem.vue'
import { goesOn, useErrand } from '@/shared/useErrand'

/** The case as a PDF page: laid out by the engine, then taken from here. */
const props = defineProps<{ idea: number }>()
const number = ref<number | null>(null)
const { errand, error } = useErrand(number)
const begin = useAction(async () => {
  const params = { path: { number: props.idea } }
  number.value = (await ask(api.POST('/api/v1/ideas/{number}/case/page', { params }))).id
}, [])
const under = computed(() => number.value !== null && (!errand.value || goesOn(errand.value.state)))
</script>

<template>
  <span role="status">
    <span v-if="under">{{ errand?.words || 'the PDF page is being laid out …' }}</span>
    <a v-else-if="errand?.state === 'done'" :href="`/api/v1/errands/${errand.id}/file`" download
      >Save the PDF page</a
    >
    <template v-else>
      <el-button :disabled="begin.busy.value" link type="primary" @click="begin.go()">PDF page</el-button>
      <span v-if="errand" class="bad"> {{ errand.words }}</span>
    </template>
    <Problem :error="begin.error.value ?? error" />
  </span>
</template>
