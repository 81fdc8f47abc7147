<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useAreas } from '@/shared/areas'
import Choice from '@/shared/Choice.vue'
import Field from '@/shared/Field.vue'
import { SEEN_BY, type SeenBy } from './seenBy'

/** Who is to see a release: the company, one area, or its maker alone, as a try-out. */
const props = defineProps<{ fault?: string; mine: boolean; now?: SeenBy }>()
const sees = defineModel<Schemas['SeenByIn']>({ required: true })
const { areas } = useAreas(() => sees.value.seen_by === 'area')
const named = computed(() => areas.value.map((one) => ({ value: one.id, words: one.name })))
// What is so already is no choice, but for another area.
const kinds = computed(() =>
  SEEN_BY.filter(({ value }) =>
    value === 'area' ? true : value !== props.now && (value === 'company' || props.mine),
  ),
)
</script>

<template>
  <fieldset>
    <legend class="quiet">Seen by</legend>
    <el-radio-group v-model="sees.seen_by" class="column">
      <el-radio v-for="one in kinds" :key="one.value" :value="one.value">{{ one.words }}</el-radio>
    </el-radio-group>
    <Field v-if="sees.seen_by === 'area'" v-slot="{ id, invalid }" label="Area" :fault="fault">
      <Choice
        :id="id"
        v-model="sees.area_id!"
        :options="named"
        :invalid="invalid"
        placeholder="choose an area"
      />
    </Field>
  </fieldset>
</template>

<style scoped>
.column {
  flex-direction: column;
  align-items: flex-start;
}
</style>
