<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { several } from '@/shared/format'
import Fold from '@/shared/Fold.vue'
import Glyph from '@/shared/Glyph.vue'

/** What is different since another release, the heaviest first; what nobody sets up by is folded. */
const props = defineProps<{ changes: Schemas['ChangeLine'][] }>()
defineSlots<{ file?: (given: { path: string }) => unknown }>()
const heavy = computed(() => props.changes.filter((one) => one.weight !== 'fix'))
const light = computed(() => props.changes.filter((one) => one.weight === 'fix'))
const SHAPES = { breaking: 'unmet', addition: 'noted', fix: 'draft' } as const
</script>

<template>
  <div class="stack tight">
    <p v-if="!changes.length" class="quiet">Nothing is different.</p>
    <ul v-if="heavy.length" class="plain">
      <li v-for="(one, n) in heavy" :key="n" :data-weight="one.weight">
        <Glyph :state="SHAPES[one.weight]" :word="one.weight" />
        <span
          >{{ one.kind }} <b v-if="one.name">{{ one.name }}</b> {{ one.words }}</span
        >
      </li>
    </ul>
    <Fold
      v-if="light.length"
      :words="`${several(light.length, 'difference', 'differences')} that nobody sets up by`"
      :open="!heavy.length"
    >
      <ul class="plain">
        <li v-for="(one, n) in light" :key="n" data-weight="fix">
          <span class="quiet">{{ one.kind }}</span>
          <span
            ><b v-if="one.name">{{ one.name }}</b> {{ one.words }}
            <slot v-if="one.kind === 'file'" name="file" :path="one.name"
          /></span>
        </li>
      </ul>
    </Fold>
  </div>
</template>

<style scoped>
.plain {
  list-style: none;
  margin: 0;
  padding: 0;
}
.plain li {
  display: grid;
  grid-template-columns: 110px minmax(0, 1fr);
  gap: 8px;
  padding: 4px 0;
}
</style>
