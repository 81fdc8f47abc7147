<script setup lang="ts">
import { computed, ref } from 'vue'
import { later } from './later'
import { usePeople } from './people'

const InvitePerson = later(() => import('./InvitePerson.vue'))

/** Picks a person by typing; whoever is missing is invited on the spot. */
const props = defineProps<{
  id?: string
  but?: number[]
  label?: string
  /** Without a way to invite somebody. */
  plain?: boolean
  placeholder?: string
}>()
const value = defineModel<number | null>({ required: true })
const { words, people, more, refetch } = usePeople(() => [value.value])
const inviting = ref(false)
const choices = computed(() => people.value.filter((one) => !props.but?.includes(one.id)))
async function invited(id: number) {
  inviting.value = false
  await refetch()
  value.value = id
}
</script>

<template>
  <div class="pick">
    <el-select
      :id="id"
      :model-value="value ?? undefined"
      filterable
      remote
      :remote-method="(typed: string) => (words = typed)"
      clearable
      :aria-label="label ?? 'Person'"
      :placeholder="placeholder ?? 'Type a name'"
      no-match-text="Nobody of that name; invite them"
      @update:model-value="(now: number | undefined) => (value = now ?? null)"
    >
      <el-option
        v-for="one in choices"
        :key="one.id"
        :value="one.id"
        :label="one.state === 'invited' ? `${one.name} (invited)` : one.name"
      >
        <span>{{ one.name }}</span>
        <span class="quiet"> {{ one.state === 'invited' ? 'invited' : (one.division ?? '') }}</span>
      </el-option>
      <template v-if="more" #footer>
        <span class="quiet">More people are found by typing.</span>
      </template>
    </el-select>
    <el-button v-if="!plain" link type="primary" @click="inviting = !inviting">
      Invite somebody else
    </el-button>
    <InvitePerson v-if="inviting" class="whole" @done="invited" @leave="inviting = false" />
  </div>
</template>

<style scoped>
.pick {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.pick :deep(.el-select) {
  width: 240px;
}
.whole {
  flex-basis: 100%;
}
</style>
