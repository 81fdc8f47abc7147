<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'
import { ProblemError } from '@/api/client'
import { fieldWords } from './faults'

/**
 * What is wrong, and what mends it; faults with a field are shown at the field instead. A field that ends with a dot
 * stands for all within it.
 */
const props = defineProps<{ error: unknown; fields?: string[] }>()
const problem = computed(() => (props.error instanceof ProblemError ? props.error : null))
const rest = computed(() =>
  (problem.value?.faults ?? []).filter(
    (fault) =>
      !(props.fields ?? []).some((one) =>
        one.endsWith('.') ? fault.field.startsWith(one) : fault.field === one,
      ),
  ),
)
// A refusal that names a permission can be answered with a request for it, here and now.
const AskAccess = defineAsyncComponent(() => import('@/shared/AskAccess.vue'))
const asking = ref(false)
const lacking = computed(() => {
  const permission = problem.value?.status === 403 ? problem.value.more.permission : undefined
  return typeof permission === 'string' ? permission : undefined
})
const lackingAt = computed(() => {
  const area = problem.value?.more.area
  return typeof area === 'number' ? area : null
})
const some = computed(() => (problem.value?.faults.length ?? 0) > 0)
</script>

<template>
  <div v-if="error" class="note bad" role="alert">
    <template v-if="some">
      <p v-if="!rest.length">Not kept yet: mend the fields marked above.</p>
      <p v-for="fault in rest" :key="fault.field + fault.message">
        <b>{{ fieldWords(fault.field) }}</b><template
          v-if="fault.value !== null && fault.value !== '' && typeof fault.value !== 'object'"
        >
          “{{ fault.value }}”</template
        >: {{ fault.message }}
      </p>
    </template>
    <template v-else>
      <p>{{ problem?.message ?? String(error) }}</p>
      <p v-if="problem?.mend" class="quiet">{{ problem.mend }}</p>
      <template v-if="lacking">
        <p v-if="!asking"><el-button @click="asking = true">Ask for it</el-button></p>
        <AskAccess v-else :permission="lacking" :area="lackingAt" />
      </template>
    </template>
  </div>
</template>
