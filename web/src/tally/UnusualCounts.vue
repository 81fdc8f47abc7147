<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Choice from '@/shared/Choice.vue'
import Problem from '@/shared/Problem.vue'

/** What becomes of counts far from a routine's usual: the house's choice. */
const query = useQuery({
  queryKey: ['tally', 'counts'],
  queryFn: () => ask(api.GET('/api/v1/value/counts')),
})
const rule = computed(() => query.data.value)
const chosen = ref<string | null>('')
const touched = ref(false)
watch(rule, (now) => touched.value || (chosen.value = now?.unusual ?? ''), { immediate: true })
const save = useAction(async () => {
  await ask(
    api.PUT('/api/v1/value/counts', {
      params: { header: { 'if-match': `"${seen.value}"` } },
      body: { unusual: chosen.value ?? '' },
    }),
  )
  touched.value = false
})
const seen = useSeen(
  () => rule.value?.version,
  save.error,
  () => touched.value,
)
</script>

<template>
  <section v-if="rule" class="stack tight">
    <h2>Counts far from the usual</h2>
    <p class="quiet">
      More than ten times the largest of a routine's last twenty counts; while it has fewer than five, more
      than a whole year of what was promised. Who may correct the tally is told of each.
    </p>
    <form v-if="rule.may_change" class="row low" @submit.prevent="save.go()">
      <Field v-slot="{ id }" label="Such counts" :fault="faultOf(save.error.value, 'unusual')">
        <Choice :id="id" v-model="chosen" :options="rule.choices" @update:model-value="touched = true" />
      </Field>
      <el-button :disabled="save.busy.value || chosen === rule.unusual" native-type="submit"
        >Keep it so</el-button
      >
      <span v-if="chosen === rule.unusual" class="quiet">It is so already.</span>
    </form>
    <p v-else>Such counts {{ rule.choices.find((one) => one.value === rule?.unusual)?.words }}.</p>
    <Problem :error="save.error.value" :fields="['unusual']" />
  </section>
</template>

<style scoped>
.low {
  align-items: flex-end;
}
</style>
