<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, useId } from 'vue'
import { flat, treeOf, type Node, type TreeOf } from './tree'

/** Read when it is first shown, by TreeField. */
const props = defineProps<TreeOf>()
const NONE = 0
const value = defineModel<number | null>({ required: true })
const nodes = computed((): Node[] => {
  const trees = treeOf(props.places)
  if (props.nothing === undefined) return trees
  return [{ value: NONE, label: props.nothing, way: props.nothing, children: [] }, ...trees]
})
const chosen = computed({
  get: () => value.value ?? (props.nothing === undefined ? undefined : NONE),
  set: (now: number | undefined) => (value.value = now || null),
})
const ways = computed(() => new Map(flat(nodes.value).map((one) => [one.value, one.way])))
// The library moves among the places by the arrows, and takes none of them by a key.
const popper = `tree-${useId()}`
useEventListener(document, 'keydown', (event) => {
  if (event.key !== 'Enter' && event.key !== ' ') return
  const place = (event.target as HTMLElement).closest(`.${popper} .el-tree-node`)
  if (!place) return
  event.preventDefault()
  place.querySelector<HTMLElement>('.el-select-dropdown__item')?.click()
})
const fits = (typed: string, one: Node): boolean => one.way.toLowerCase().includes(typed.trim().toLowerCase())
</script>

<template>
  <el-tree-select
    :id="id"
    v-model="chosen"
    class="tree"
    :data="nodes"
    node-key="value"
    check-strictly
    :popper-class="popper"
    default-expand-all
    :render-after-expand="false"
    :filter-node-method="(typed: string, one: unknown) => fits(typed, one as Node)"
    :empty-values="[undefined]"
    :indent="14"
    filterable
    :clearable="clearable"
    :disabled="disabled"
    :placeholder="placeholder ?? 'choose'"
    no-match-text="Nothing of that name"
    no-data-text="Nothing of that name"
    :aria-label="label"
    :aria-invalid="invalid"
  >
    <template #label="{ value: shown }">{{ ways.get(Number(shown)) }}</template>
  </el-tree-select>
</template>

<style scoped>
.tree {
  width: 320px;
  max-width: 100%;
}
</style>
