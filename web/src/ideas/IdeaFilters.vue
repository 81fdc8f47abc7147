<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ask } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import Choice from '@/shared/Choice.vue'
import { SOURCES } from '@/api/words'

import { ROUTES } from '@/api/words'
import NumberField from '@/shared/NumberField.vue'

/** What narrows the list of ideas on wish, beside words, stage, division and lateness. */
const props = defineProps<{ wanted: Record<string, string | number | boolean>; wide: boolean }>()
const emit = defineEmits<{ set: [change: Record<string, string | undefined>] }>()
const systems = useQuery({
  queryKey: ['ideas', 'systems'],
  enabled: () => props.wide,
  queryFn: () => ask(api.GET('/api/v1/ideas/systems')),
})
const text = (name: string): string => String(props.wanted[name] ?? '')
const chosen = (name: string, now: string | null) => emit('set', { [name]: now?.trim() || undefined })
const plain = (words: string) => ({ value: words, words })
const yes = (name: string) => emit('set', { [name]: props.wanted[name] ? undefined : '1' })
</script>

<template>
  <label
    >Work owner
    <PersonField
      :model-value="Number(wanted.owner) || null"
      label="Work owner"
      plain
      @update:model-value="(now: number | null) => emit('set', { owner: now ? String(now) : undefined })"
  /></label>
  <label
    >Came in by
    <Choice
      :model-value="text('source') || null"
      label="Came in by"
      nothing="any way"
      :options="SOURCES.map(plain)"
      @update:model-value="(now) => chosen('source', now)"
  /></label>
  <label
    >Route
    <Choice
      :model-value="text('route') || null"
      label="Route"
      nothing="every route"
      :options="ROUTES.map(plain)"
      @update:model-value="(now) => chosen('route', now)"
  /></label>
  <label
    >System
    <Choice
      :model-value="text('system') || null"
      label="System"
      nothing="any system"
      :options="
        (systems.data.value ?? []).map((one) => ({ value: one.name, words: `${one.name} (${one.ideas})` }))
      "
      @update:model-value="(now) => chosen('system', now)"
  /></label>
  <label
    >Hours in reach, low end
    <span class="row"
      ><NumberField
        label="Hours in reach from"
        placeholder="from"
        whole
        :chars="7"
        :model-value="text('reach_from')"
        @keep="(now: string) => chosen('reach_from', now)" />
      <NumberField
        label="Hours in reach to"
        placeholder="to"
        whole
        :chars="7"
        :model-value="text('reach_to')"
        @keep="(now: string) => chosen('reach_to', now)" /></span
  ></label>
  <label v-if="wide"
    >Worth a year
    <span class="row"
      ><NumberField
        label="Worth from"
        placeholder="from"
        whole
        :chars="7"
        :model-value="text('worth_from')"
        @keep="(now: string) => chosen('worth_from', now)" />
      <NumberField
        label="Worth to"
        placeholder="to"
        whole
        :chars="7"
        :model-value="text('worth_to')"
        @keep="(now: string) => chosen('worth_to', now)" /></span
  ></label>
  <label
    >In its stage for over, days
    <NumberField
      label="In its stage for over, days"
      whole
      :chars="7"
      :model-value="text('older_than')"
      @keep="(now: string) => chosen('older_than', now)"
  /></label>
  <span class="stack tight">
    <el-checkbox :model-value="!!wanted.asked" @change="yes('asked')">asked back</el-checkbox>
    <el-checkbox :model-value="!!wanted.amendments" @change="yes('amendments')">amendments only</el-checkbox>
  </span>
</template>
