const KEPT = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'opacity',
  'paint-order',
  'font-family',
  'font-size',
  'font-weight',
]

/** A drawing as a file of its own: what the page's styles gave it is written into it. */
export function asFile(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const originals = [svg, ...svg.querySelectorAll('*')]
  const copies = [copy, ...copy.querySelectorAll('*')]
  originals.forEach((element, i) => {
    const style = getComputedStyle(element)
    for (const name of KEPT) {
      const value = style.getPropertyValue(name)
      if (value) copies[i]?.setAttribute(name, value)
    }
    copies[i]?.removeAttribute('class')
  })
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.setAttribute('font-family', 'sans-serif')
  return new XMLSerializer().serializeToString(copy)
}
