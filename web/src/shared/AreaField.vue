<script setup lang="ts">
import { computed } from 'vue'
import { useAreas } from './areas'
import { but } from './tree'
import TreeField from './TreeField.vue'

/**
 * An area, with all below it. `nothing`: what it is called to choose none, such as the whole company; `among`: the
 * areas to choose from, where they are not all that the reader sees.
 */
const props = defineProps<{
  id?: string
  nothing?: string
  among?: readonly { id: number; name: string; parent_id?: number | null }[]
  label?: string
  /** The area that cannot be chosen, with all below it. */
  without?: number
  disabled?: boolean
  invalid?: boolean
}>()
const value = defineModel<number | null>({ required: true })
const { areas } = useAreas(() => props.among === undefined)
const places = computed(() =>
  but(
    (props.among ?? areas.value).map((one) => ({
      id: one.id,
      name: one.name,
      parent: one.parent_id ?? null,
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
    placeholder="choose an area"
    :label="label"
    :disabled="disabled"
    :invalid="invalid"
  />
</template>
