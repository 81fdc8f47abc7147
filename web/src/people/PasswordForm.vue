<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** Changes the password; other sign-ins end. */
const old = ref('')
const fresh = ref('')
const done = ref(false)
const change = useAction(async () => {
  done.value = false
  await ask(api.PUT('/api/v1/profile/password', { body: { old: old.value, new: fresh.value } }))
  old.value = fresh.value = ''
  done.value = true
})
</script>

<template>
  <section class="stack tight">
    <h2>Password</h2>
    <form class="row top" @submit.prevent="change.go()">
      <Field v-slot="{ id }" label="The one so far" :fault="faultOf(change.error.value, 'old')"
        ><el-input :id="id" v-model="old" type="password" autocomplete="current-password"
      /></Field>
      <Field
        v-slot="{ id }"
        label="The new one"
        help="at least 12 characters; a few words are best"
        :fault="faultOf(change.error.value, 'password')"
        ><el-input :id="id" v-model="fresh" type="password" autocomplete="new-password"
      /></Field>
      <el-button class="low" :disabled="change.busy.value || !old || !fresh" native-type="submit">
        Change it and sign out elsewhere
      </el-button>
    </form>
    <Problem :error="change.error.value" :fields="['old', 'password']" />
    <p v-if="done" role="status" class="quiet">Changed; every other sign-in has ended.</p>
  </section>
</template>

<style scoped>
.low {
  margin-top: 20px;
}
</style>
