<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import DivisionField from '@/shared/DivisionField.vue'
import { SOURCES } from './lists'
import { ROUTES } from './routes'
import NumberField from '@/shared/NumberField.vue'

/** What narrows the list: a few words always, the rest on wish; what is set always shows. */
const props = defineProps<{ wanted: Record<string, string | number | boolean>; wide: boolean }>()
const emit = defineEmits<{ set: [change: Record<string, string | undefined>] }>()
const RARE = [
  'owner',
  'source',
  'system',
  'reach_from',
  'reach_to',
  'worth_from',
  'worth_to',
  'older_than',
  'route',
  'amendments',
  'asked',
]
const open = ref(RARE.some((name) => props.wanted[name] !== undefined))
const used = computed(() => RARE.filter((name) => props.wanted[name] !== undefined).length)
const systems = useQuery({
  queryKey: ['ideas', 'systems'],
  enabled: () => open.value && props.wide,
  queryFn: () => ask(api.GET('/api/v1/ideas/systems')),
})
const text = (name: string): string => String(props.wanted[name] ?? '')
const chosen = (name: string, now: string) => emit('set', { [name]: now.trim() || undefined })
const yes = (name: string) => emit('set', { [name]: props.wanted[name] ? undefined : '1' })
</script>

<template>
  <div class="stack tight">
    <div class="row">
      <slot />
      <DivisionField
        :model-value="Number(wanted.division) || null"
        nothing="every division"
        @update:model-value="(now: number | null) => emit('set', { division: now ? String(now) : undefined })"
      />
      <el-checkbox :model-value="!!wanted.late" @change="yes('late')">overdue</el-checkbox>
      <el-button :aria-expanded="open" link type="primary" @click="open = !open"
        >{{ open ? 'Fewer filters' : used ? `More filters (${used} set)` : 'More filters' }}
      </el-button>
    </div>
    <div v-if="open" class="rare">
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
        <el-select
          :model-value="text('source')"
          aria-label="Came in by"
          :empty-values="[undefined]"
          @change="(now: string) => chosen('source', now)"
        >
          <el-option value="" label="any way" />
          <el-option v-for="one in SOURCES" :key="one" :value="one" :label="one" /> </el-select
      ></label>
      <label
        >Route
        <el-select
          :model-value="text('route')"
          aria-label="Route"
          :empty-values="[undefined]"
          @change="(now: string) => chosen('route', now)"
        >
          <el-option value="" label="every route" />
          <el-option v-for="one in ROUTES" :key="one" :value="one" :label="one" /> </el-select
      ></label>
      <label
        >System
        <el-select
          :model-value="text('system')"
          aria-label="System"
          filterable
          :empty-values="[undefined]"
          @change="(now: string) => chosen('system', now)"
        >
          <el-option value="" label="any system" />
          <el-option
            v-for="one in systems.data.value ?? []"
            :key="one.name"
            :value="one.name"
            :label="`${one.name} (${one.ideas})`"
          /> </el-select
      ></label>
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
      <label
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
        <el-checkbox :model-value="!!wanted.amendments" @change="yes('amendments')"
          >amendments only</el-checkbox
        >
      </span>
    </div>
  </div>
</template>

<style scoped>
.rare {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  align-items: flex-start;
  border-top: 1px solid var(--hair);
  padding-top: 10px;
}
.rare label {
  font-size: 12.5px;
  color: var(--ink-2);
  display: grid;
  gap: 3px;
}
.rare label.row {
  display: flex;
  gap: 8px;
}
</style>
