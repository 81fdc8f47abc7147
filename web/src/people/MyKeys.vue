<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Problem from '@/shared/Problem.vue'
import { useMe } from '@/shared/session'
import { useUnsaved } from '@/shared/unsaved'
import When from '@/shared/When.vue'

/** The keys by which one signs packages: public halves, added once for each computer, retired when it goes. */
const { may } = useMe()
const query = useQuery({ queryKey: ['keys'], queryFn: () => ask(api.GET('/api/v1/profile/keys')) })
const rows = computed(() => query.data.value ?? [])
const adding = ref(false)
const name = ref('')
const half = ref('')
useUnsaved('The key', () => adding.value && (name.value !== '' || half.value !== ''))
const add = useAction(async () => {
  await ask(api.POST('/api/v1/profile/keys', { body: { name: name.value, public: half.value } }))
  adding.value = false
  name.value = half.value = ''
})
const retire = useAction((id: number) =>
  ask(api.DELETE('/api/v1/profile/keys/{number}', { params: { path: { number: id } } })),
)
</script>

<template>
  <section v-if="may('package.make') || rows.length" class="stack tight">
    <div class="spread">
      <h2>Keys I sign packages with</h2>
      <el-button v-if="may('package.make') && !adding" @click="adding = true">Add a key</el-button>
    </div>
    <form v-if="adding" class="note stack tight" autocomplete="off" @submit.prevent="add.go()">
      <p class="quiet">
        On the computer where you build, <code>./tallyman package key</code> makes a key and prints its public
        half. The other half stays there; nobody can sign as you without it.
      </p>
      <div class="row top">
        <Field v-slot="{ id }" label="On which computer" :fault="faultOf(add.error.value, 'name')"
          ><el-input :id="id" v-model="name" maxlength="80"
        /></Field>
        <Field v-slot="{ id }" label="Its public half" :fault="faultOf(add.error.value, 'public')"
          ><el-input :id="id" v-model="half" style="--chars: 44"
        /></Field>
      </div>
      <FormEnd
        action="Add it"
        :busy="add.busy.value"
        :error="add.error.value"
        :fields="['name', 'public']"
        leave="Cancel"
        @leave="adding = false"
      />
    </form>
    <p v-if="!rows.length && !adding" class="quiet">
      None. Releases by page are not signed; those by command are, once a key was added.
    </p>
    <table v-else-if="rows.length" class="ledger stacks">
      <thead>
        <tr>
          <th>Computer</th>
          <th>Key</th>
          <th>Added</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in rows" :key="one.id">
          <td>
            <b>{{ one.name }}</b>
          </td>
          <td data-head="key">{{ one.shown }}</td>
          <td data-head="added"><When :at="one.made_at" /></td>
          <td class="num">
            <span v-if="one.retired_at" class="quiet">retired <When :at="one.retired_at" /></span>
            <el-button
              v-else
              link
              type="danger"
              :disabled="retire.busy.value"
              :aria-label="`Retire the key ${one.name}`"
              @click="retire.go(one.id)"
              >Retire</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <Problem :error="retire.error.value" />
  </section>
</template>
