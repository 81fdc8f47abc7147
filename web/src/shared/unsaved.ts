import {
  computed,
  nextTick,
  onScopeDispose,
  ref,
  shallowReactive,
  watch,
  type ComputedRef,
  type Ref,
} from 'vue'

/** Something typed that the server has not got: what it is called, and whether this browser keeps it. */
export interface Unsaved {
  what: string
  kept: boolean
  dirty: () => boolean
}

const all = shallowReactive(new Set<Unsaved>())
let reader = ''

/** Drafts are kept apart for each person who signs in at this browser. */
export function draftsOf(person: number): void {
  reader = String(person)
}

/** What stands on the page now and would be left behind. */
export function unsaved(): Unsaved[] {
  return [...all].filter((one) => one.dirty())
}

/** Says, as long as the part stands on the page, whether it holds words that are not saved. */
export function useUnsaved(what: string, dirty: () => boolean, kept = false): void {
  const mine: Unsaved = { what, kept, dirty }
  all.add(mine)
  onScopeDispose(() => all.delete(mine))
}

interface Stored {
  at: string
  version: number | null
  open: unknown
  fields: Record<string, unknown>
}
const PREFIX = 'tallyman-draft-'
const DAYS_KEPT = 30

/** Drafts that nobody came back to for a month go; those that cannot be read go as well. */
export function dropOldDrafts(now: Date): void {
  for (const key of Object.keys(localStorage).filter((name) => name.startsWith(PREFIX))) {
    const at = Date.parse(stored(key)?.at ?? '')
    if (!(now.getTime() - at < DAYS_KEPT * 86_400_000)) localStorage.removeItem(key)
  }
}

function stored(key: string): Stored | null {
  try {
    return JSON.parse(localStorage.getItem(key) ?? 'null') as Stored | null
  } catch {
    return null
  }
}

function store(key: string, value: Stored): void {
  try {
    localStorage.setItem(key, JSON.stringify(value))
  } catch {
    // A browser that is full or keeps nothing: what is typed stands on the page, and leaving it still warns.
  }
}

export interface Draft {
  /** When what stands here was typed, if it was brought back. */
  from: Readonly<Ref<string | null>>
  dirty: ComputedRef<boolean>
  /** It was sent, or taken from the server: nothing is left to keep. */
  done: () => void
  /** It is on its way and may come back; what is given puts it where it is found when the form is opened again. */
  sent: () => () => void
  /** What was brought back is thrown away; the form is as the server has it. */
  drop: () => void
}

/**
 * Keeps what is typed into a form until it is sent: it warns before the page is left, and stands there again when
 * its reader comes back, in whatever tab, after a crash or another sign-in.
 *
 * `what` names it in words, `place` is unique to the object it is about, `fields` are the form's own refs. A form
 * that is filled by the server gives `ready`; one with a version gives `seen`, so that what was typed on an older
 * version is not kept over a newer one in silence; one that is opened and closed on its page gives `open`.
 */
export function useDraft(
  what: string,
  place: () => string,
  fields: Record<string, Ref>,
  options: { ready?: () => boolean; seen?: Ref<number>; open?: Ref } = {},
): Draft {
  const { open, seen } = options
  const key = (): string => `${PREFIX}${reader}-${place()}`
  const values = (): Record<string, unknown> =>
    Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, field.value as unknown]))
  const now = computed(() => JSON.stringify(values()))
  const calm = ref(now.value)
  const over = ref(false)
  const begun = ref(false)
  const from = ref<string | null>(null)
  const changed = computed(() => begun.value && !over.value && now.value !== calm.value)
  const dirty = computed(() => changed.value && (open === undefined || !!open.value))
  useUnsaved(what, () => dirty.value, true)

  function fill(given: Record<string, unknown>) {
    for (const [name, field] of Object.entries(fields)) if (name in given) field.value = given[name]
  }
  function restore() {
    const found = stored(key())
    if (!found) return
    fill(found.fields)
    if (now.value === calm.value) return localStorage.removeItem(key())
    from.value = found.at
    if (open && found.open) open.value = found.open
    if (seen && found.version !== null) seen.value = found.version
  }
  function done() {
    if (!begun.value) return
    over.value = true
    from.value = null
    localStorage.removeItem(key())
    void nextTick(() => {
      calm.value = now.value
      over.value = false
    })
  }
  function sent(): () => void {
    const at = new Date().toISOString()
    const kept: Stored = { at, version: seen?.value ?? null, open: open?.value as unknown, fields: values() }
    const where = key()
    done()
    return () => store(where, kept)
  }
  function drop() {
    fill(JSON.parse(calm.value) as Record<string, unknown>)
    done()
  }
  watch(
    () => options.ready?.() ?? true,
    (ready) => {
      if (!ready) return
      calm.value = now.value
      begun.value = true
      restore()
    },
    { immediate: true },
  )
  watch([now, changed, () => open?.value as unknown], () => {
    if (!begun.value || over.value) return
    if (!changed.value) {
      from.value = null
      return localStorage.removeItem(key())
    }
    const at = new Date().toISOString()
    store(key(), { at, version: seen?.value ?? null, open: open?.value as unknown, fields: values() })
  })
  return { from, dirty, done, sent, drop }
}
