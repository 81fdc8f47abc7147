/** One place of a tree: by its own name, its whole way from the top, and what lies above it. */
export interface Place {
  id: number
  name: string
  parent: number | null
  /** Its name with all above it; made from the names where it is not given. */
  way?: string
}
/** What the picker of a tree shows. */
export interface Node {
  value: number
  label: string
  way: string
  children: Node[]
}
/** What the field of a tree takes: `nothing` names the choice of none, `placeholder` asks for one. */
export interface TreeOf {
  id?: string
  places: readonly Place[]
  nothing?: string
  placeholder?: string
  label?: string
  clearable?: boolean
  disabled?: boolean
  invalid?: boolean
}
export const BETWEEN = ' › '

/** The places as trees, each with its whole way; one whose upper is not there stands at the top. */
export function treeOf(places: readonly Place[]): Node[] {
  const nodes = new Map<number, Node>()
  const byId = new Map(places.map((one) => [one.id, one]))
  const wayOf = (one: Place): string => {
    const above = one.parent === null ? undefined : byId.get(one.parent)
    return one.way ?? (above ? `${wayOf(above)}${BETWEEN}${one.name}` : one.name)
  }
  for (const one of places)
    nodes.set(one.id, { value: one.id, label: one.name, way: wayOf(one), children: [] })
  const tops: Node[] = []
  for (const one of places) {
    const above = one.parent === null ? undefined : nodes.get(one.parent)
    ;(above?.children ?? tops).push(nodes.get(one.id)!)
  }
  return tops
}

/** Every node of the trees, the upper ones first. */
export const flat = (nodes: readonly Node[]): Node[] => nodes.flatMap((one) => [one, ...flat(one.children)])

/** The places but for one and all below it. */
export function but(places: readonly Place[], id: number | undefined): readonly Place[] {
  const top = flat(treeOf(places)).find((one) => one.value === id)
  const out = new Set(top ? flat([top]).map((one) => one.value) : [])
  return places.filter((one) => !out.has(one.id))
}
