import { defineAsyncComponent, h, type Component } from 'vue'

/** What stands in the place of a field until its part was read: as high as the field, so that nothing jumps. */
const Waits: Component = { render: () => h('span', { class: 'waits', 'aria-busy': 'true' }) }

/** A part of a page that is read when it is first shown, beside the page itself. */
export function later<T extends Component>(load: () => Promise<{ default: T }>): T {
  return defineAsyncComponent({ loader: load, loadingComponent: Waits, delay: 0 }) as unknown as T
}
