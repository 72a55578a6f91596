import { vi } from 'vitest'

/** jsdom lays nothing out: every element is given a height, in pixels, and remembers how far it is scrolled. */
export function layOut(height: number): void {
  const tops = new WeakMap<Element, number>()
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  )
  vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(height)
  vi.spyOn(Element.prototype, 'scrollTop', 'get').mockImplementation(function (this: Element) {
    return tops.get(this) ?? 0
  })
  Element.prototype.scrollTo = function (this: Element, to?: ScrollToOptions | number) {
    tops.set(this, Number((to as ScrollToOptions).top))
    this.dispatchEvent(new Event('scroll'))
  } as Element['scrollTo']
}
