<script setup lang="ts">
import { later } from './later'
import type { TreeOf } from './tree'

/**
 * One place of a tree, found by opening it or by typing any part of its way. `nothing` names the choice of none,
 * `placeholder` asks for one.
 */
const props = defineProps<TreeOf>()
const value = defineModel<number | null>({ required: true })
const TreePicker = later(() => import('./TreePicker.vue'))
</script>

<template>
  <TreePicker v-bind="props" v-model="value" />
</template>
