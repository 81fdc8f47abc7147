<script setup lang="ts">
import { computed } from 'vue'
import { number, plural } from '@/shared/format'
import NumberField from '@/shared/NumberField.vue'
import { followed, type Phase } from './phases'

/** The working days of a phase: they follow the person-days until somebody sets them apart. */
defineProps<{ phase: Phase; disabled?: boolean }>()
const days = defineModel<Phase['days']>({ required: true })
const emit = defineEmits<{ keep: [] }>()
const apart = computed(() => days.value !== null && days.value !== '')
const take = (typed: string) => (days.value = typed === '' ? null : typed)
</script>

<template>
  <NumberField
    :model-value="String(days ?? '')"
    :chars="4"
    whole
    :placeholder="number(String(followed(phase)))"
    :label="`Working days of ${phase.name}`"
    :disabled="disabled"
    @update:model-value="take"
    @keep="emit('keep')"
  />
  <div class="quiet">
    <template v-if="!apart">follow the person-days</template>
    <template v-else>
      set apart
      <el-button
        v-if="!disabled"
        link
        type="primary"
        :aria-label="`Let the days of ${phase.name} follow its person-days`"
        @click="(take(''), emit('keep'))"
        >follow {{ number(String(followed(phase))) }} {{ plural(followed(phase), 'day', 'days') }}</el-button
      >
    </template>
  </div>
</template>
