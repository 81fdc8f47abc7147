<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/app/session'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'

/** Puts a secret in, or another value for one; the value cannot be read afterwards. */
const props = defineProps<{ kinds?: Schemas['KindOut'][]; secret?: Schemas['SecretRow'] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { me } = useMe()
const name = ref('')
const kind = ref(props.kinds?.[0]?.kind ?? '')
const value = ref('')
const area = ref<number | ''>('')
const about = ref(props.secret?.about ?? '')
const expires = ref(props.secret?.expires_on ?? '')
const everywhere = computed(() => me.value?.everywhere.includes('secret.make') ?? false)
const areas = useQuery({
  queryKey: ['robots', 'tree'],
  queryFn: () => ask(api.GET('/api/v1/areas')),
  enabled: !props.secret,
})
const save = useAction(async () => {
  const rest = { about: about.value, expires_on: expires.value || null }
  if (props.secret)
    await ask(
      api.PUT('/api/v1/secrets/{number}', {
        params: { path: { number: props.secret.id }, header: { 'if-match': `"${seen.value}"` } },
        body: { value: value.value || null, ...rest },
      }),
    )
  else
    await ask(
      api.POST('/api/v1/secrets', {
        body: { name: name.value, kind: kind.value, value: value.value, area: area.value || null, ...rest },
      }),
    )
  value.value = ''
  emit('done')
})
const seen = useSeen(() => props.secret?.version, save.error)
</script>

<template>
  <form class="note stack tight" autocomplete="off" @submit.prevent="save.go()">
    <div v-if="!secret" class="row top">
      <Field
        v-slot="{ id }"
        label="Name"
        help="as package.toml names it"
        :fault="faultOf(save.error.value, 'name')"
        ><input :id="id" v-model="name" type="text" size="24" placeholder="billing-login"
      /></Field>
      <Field v-slot="{ id }" label="What it is" :fault="faultOf(save.error.value, 'kind')"
        ><select :id="id" v-model="kind">
          <option v-for="one in kinds" :key="one.kind" :value="one.kind">{{ one.words }}</option>
        </select></Field
      >
      <Field v-slot="{ id }" label="Usable in" :fault="faultOf(save.error.value, 'area')"
        ><select :id="id" v-model="area">
          <option value="" :disabled="!everywhere">the whole company</option>
          <option v-for="one in areas.data.value?.areas" :key="one.id" :value="one.id">
            {{ one.name }} and below
          </option>
        </select></Field
      >
    </div>
    <div class="row top">
      <Field
        v-slot="{ id }"
        :label="secret ? 'Another value' : 'Value'"
        :help="secret ? 'left empty, the one there is stays' : 'nobody can read it afterwards'"
        :fault="faultOf(save.error.value, 'value')"
        ><input :id="id" v-model="value" type="password" size="28" autocomplete="new-password"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Good until"
        help="may stay open"
        :fault="faultOf(save.error.value, 'expires_on')"
        ><input :id="id" v-model="expires" type="date"
      /></Field>
      <Field v-slot="{ id }" label="What it is for" :fault="faultOf(save.error.value, 'about')"
        ><input :id="id" v-model="about" type="text" size="32"
      /></Field>
    </div>
    <Problem :error="save.error.value" :fields="['name', 'kind', 'area', 'value', 'expires_on', 'about']" />
    <p class="row">
      <button class="filled" :disabled="save.busy.value || (!secret && !value)">
        {{ secret ? 'Keep it' : 'Put it in' }}
      </button>
      <button type="button" @click="emit('leave')">Leave it</button>
    </p>
  </form>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
