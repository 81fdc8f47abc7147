<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { dayText } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import PersonField from '@/shared/PersonField.vue'
import DayField from '@/shared/DayField.vue'
import { useDraft } from '@/shared/unsaved'

/** From when to when one is away, and who looks after the desk. */
const props = defineProps<{ profile: Schemas['Profile'] }>()
const { me } = useMe()
const start = ref(props.profile.away_from ?? '')
const end = ref(props.profile.away_until ?? '')
const standIn = ref<number | null>(props.profile.stand_in?.id ?? null)
const set = useAction(async (away: boolean) => {
  await ask(
    api.PUT('/api/v1/profile/away', {
      body: away
        ? { start: start.value || null, end: end.value || null, stand_in: standIn.value }
        : { start: null, end: null, stand_in: null },
    }),
  )
  unsent.done()
})
const unsent = useDraft('Your days away', () => 'away', { start, end, standIn })
</script>

<template>
  <section class="stack tight">
    <h2>Away</h2>
    <p v-if="profile.stands_in_for.length">
      You look after the desk of {{ profile.stands_in_for.join(', ') }}.
    </p>
    <p v-if="profile.away_until" class="note">
      You are away until {{ dayText(profile.away_until)
      }}{{ profile.stand_in ? `; ${profile.stand_in.name} stands in` : '; nobody stands in' }}.
      <el-button link type="primary" @click="set.go(false)">I am back</el-button>
    </p>
    <form class="row top" @submit.prevent="set.go(true)">
      <Field
        v-slot="{ id }"
        label="From"
        help="empty: from now on"
        :fault="faultOf(set.error.value, 'away_from')"
        ><DayField :id="id" v-model="start"
      /></Field>
      <Field v-slot="{ id }" label="Until, included" :fault="faultOf(set.error.value, 'away_until')"
        ><DayField :id="id" v-model="end"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Stands in"
        help="sees what waits for you, confirms for you; gets none of your roles"
        :fault="faultOf(set.error.value, 'stand_in')"
        ><PersonField :id="id" v-model="standIn" :but="me ? [me.id] : []" label="Stands in"
      /></Field>
      <el-button :disabled="set.busy.value || !end" class="low" native-type="submit"
        >Say that I am away</el-button
      >
    </form>
    <Problem :error="set.error.value" :fields="['away_from', 'away_until', 'stand_in']" />
  </section>
</template>

<style scoped>
.low {
  margin-top: 20px;
}
</style>
