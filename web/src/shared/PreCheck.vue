<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Fold from './Fold.vue'
import { SET_UP } from './needActs'
import Needs from './Needs.vue'

/**
 * What a routine needs to start this moment, the same wherever somebody is about to rely on it. What lies in
 * its own set-up is mended there: `set-up` asks for it. `short`: what is met is folded away.
 */
const props = defineProps<{ needs: Schemas['Need'][]; named?: string; able?: boolean; short?: boolean }>()
const emit = defineEmits<{ 'set-up': [] }>()
const unmet = computed(() => props.needs.filter((need) => !need.met))
const met = computed(() => props.needs.filter((need) => need.met))
</script>

<template>
  <section class="pre-check">
    <h2>{{ named ?? 'Pre-check' }}: {{ unmet.length ? `${unmet.length} not met` : 'it can start' }}</h2>
    <Needs :needs="short ? unmet : needs">
      <template #act="{ need }">
        <el-button
          v-if="able && need.act === SET_UP"
          :aria-label="`Change the set-up: ${need.mend}`"
          @click="emit('set-up')"
          >Change the set-up</el-button
        >
      </template>
    </Needs>
    <Fold v-if="short && met.length" :words="`${met.length} met`"><Needs :needs="met" /></Fold>
  </section>
</template>
