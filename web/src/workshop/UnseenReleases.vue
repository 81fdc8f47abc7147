<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { several } from '@/shared/format'

/** What there is of such releases beside those listed, and why the reader does not see it. */
const props = defineProps<{ text: string }>()
const query = useQuery({
  queryKey: ['packages', 'unseen', () => props.text],
  placeholderData: keepPreviousData,
  queryFn: () => ask(api.GET('/api/v1/releases/unseen', { params: { query: { text: props.text } } })),
})
const lines = computed(() => {
  const { tryouts, areas } = query.data.value ?? { tryouts: 0, areas: 0 }
  return [
    tryouts
      ? `${several(tryouts, 'release is a try-out', 'releases are try-outs')} that nobody but the maker sees`
      : '',
    areas ? `${several(areas, 'release is', 'releases are')} seen by areas that you do not work in` : '',
  ].filter(Boolean)
})
</script>

<template>
  <p v-if="lines.length" class="quiet">
    Beside these, {{ lines.join(', and ') }}. Whoever released one can let others see it.
  </p>
</template>
