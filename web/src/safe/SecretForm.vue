<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { useSeen } from '@/shared/useSeen'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import DayField from '@/shared/DayField.vue'

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
        ><el-input :id="id" v-model="name" style="--chars: 24" placeholder="billing-login"
      /></Field>
      <Field v-slot="{ id }" label="What it is" :fault="faultOf(save.error.value, 'kind')"
        ><el-select :id="id" v-model="kind"
          ><el-option v-for="one in kinds" :key="one.kind" :value="one.kind" :label="one.words" /></el-select
      ></Field>
      <Field v-slot="{ id }" label="Usable in" :fault="faultOf(save.error.value, 'area')"
        ><el-select :id="id" v-model="area" :empty-values="[undefined]"
          ><el-option value="" :disabled="!everywhere" label="the whole company" />
          <el-option
            v-for="one in areas.data.value?.areas"
            :key="one.id"
            :value="one.id"
            :label="`${one.name} and below`" /></el-select
      ></Field>
    </div>
    <div class="row top">
      <Field
        v-slot="{ id }"
        :label="secret ? 'Another value' : 'Value'"
        :help="secret ? 'left empty, the one there is stays' : 'nobody can read it afterwards'"
        :fault="faultOf(save.error.value, 'value')"
        ><el-input :id="id" v-model="value" type="password" style="--chars: 28" autocomplete="new-password"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Good until"
        help="may stay open"
        :fault="faultOf(save.error.value, 'expires_on')"
        ><DayField :id="id" v-model="expires"
      /></Field>
      <Field v-slot="{ id }" label="What it is for" :fault="faultOf(save.error.value, 'about')"
        ><el-input :id="id" v-model="about" style="--chars: 32"
      /></Field>
    </div>
    <Problem :error="save.error.value" :fields="['name', 'kind', 'area', 'value', 'expires_on', 'about']" />
    <p class="row">
      <el-button :disabled="save.busy.value || (!secret && !value)" type="primary" native-type="submit"
        >{{ secret ? 'Keep it' : 'Put it in' }}
      </el-button>
      <el-button @click="emit('leave')">Leave it</el-button>
    </p>
  </form>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
