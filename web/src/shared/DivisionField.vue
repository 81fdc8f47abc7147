<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ElOption, ElSelect } from 'element-plus'
import 'element-plus/es/components/option/style/css'
import 'element-plus/es/components/select/style/css'
import { api, ask } from '@/api/client'

/** Where work belongs, found by typing any part of its way down the tree. */
defineProps<{ id?: string; label?: string; nothing?: string }>()
const value = defineModel<number | null>({ required: true })
const divisions = useQuery({
  queryKey: ['divisions'],
  queryFn: () => ask(api.GET('/api/v1/divisions')),
  staleTime: 60_000,
})
</script>

<template>
  <ElSelect
    :id="id"
    class="division"
    :model-value="value ?? undefined"
    filterable
    clearable
    :aria-label="label ?? 'Division'"
    :placeholder="nothing ?? 'I do not know; type to find it'"
    no-match-text="No division of that name"
    @update:model-value="(now: number | undefined) => (value = now ?? null)"
  >
    <ElOption v-for="one in divisions.data.value ?? []" :key="one.id" :value="one.id" :label="one.name" />
  </ElSelect>
</template>

<style scoped>
.division {
  width: 320px;
  max-width: 100%;
}
</style>
