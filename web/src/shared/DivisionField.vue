<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ask } from '@/api/client'
import { but } from './tree'
import TreeField from './TreeField.vue'

/** Where work belongs, found by typing any part of its way down the tree. */
const props = defineProps<{
  id?: string
  label?: string
  /** What it is called to choose none. */
  nothing?: string
  /** The division that cannot be chosen, with all below it. */
  without?: number
}>()
const value = defineModel<number | null>({ required: true })
const divisions = useQuery({
  queryKey: ['divisions'],
  queryFn: () => ask(api.GET('/api/v1/divisions')),
  staleTime: 60_000,
})
const places = computed(() =>
  but(
    (divisions.data.value ?? []).map((one) => ({
      id: one.id,
      name: one.own,
      way: one.name,
      parent: one.parent_id,
    })),
    props.without,
  ),
)
</script>

<template>
  <TreeField
    :id="id"
    v-model="value"
    :places="places"
    :nothing="nothing"
    :label="label ?? 'Division'"
    :clearable="nothing === undefined"
    placeholder="I do not know; type to find it"
  />
</template>
