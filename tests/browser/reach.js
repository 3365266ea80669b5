// What of a page nobody can bring into view: beside the page, cut off by a box that does not scroll, or in a box too narrow to scroll in.
() => {
  const found = []
  if (document.documentElement.scrollWidth > innerWidth + 1) found.push(`the page is ${document.documentElement.scrollWidth} wide`)
  const NARROW = 40
  const LOW = 60
  const passed = '.sr,.el-popper,svg,[aria-hidden=true],input[type=file]'
  for (const e of document.querySelectorAll('a,button,input,select,textarea,[tabindex="0"],h1,h2,th,label')) {
    const style = getComputedStyle(e)
    if (e.closest(passed) || style.visibility === 'hidden' || style.display === 'none' || style.opacity === '0') continue
    const at = e.getBoundingClientRect()
    if (!at.width || !at.height) continue
    const seen = { left: at.left, right: at.right, top: at.top, bottom: at.bottom }
    let lost = ''
    for (let box = e.parentElement; box && !lost; box = box.parentElement) {
      const room = box.getBoundingClientRect()
      const { overflowX, overflowY, position } = getComputedStyle(box)
      if (['auto', 'scroll'].includes(overflowX)) {
        if (room.width < NARROW && box.scrollWidth > room.width) lost = `in a strip of ${Math.round(room.width)}`
        seen.left = Math.max(Math.min(seen.left, room.right), room.left)
        seen.right = Math.min(Math.max(seen.right, seen.left), room.right)
      } else if (['hidden', 'clip'].includes(overflowX) && (seen.right > room.right + 2 || seen.left < room.left - 2)) {
        lost = `cut off by ${box.className}`
      }
      if (['auto', 'scroll'].includes(overflowY)) {
        if (room.height < LOW && box.scrollHeight > room.height + 2) lost = `in a slit of ${Math.round(room.height)}`
        seen.top = room.top
        seen.bottom = room.top + Math.min(at.height, room.height)
      } else if (['hidden', 'clip'].includes(overflowY) && (seen.bottom > room.bottom + 4 || seen.top < room.top - 4)) {
        lost = `cut off by ${box.className}`
      }
      if (position === 'fixed') break
    }
    if (!lost && (seen.right > innerWidth + 2 || seen.left < -2)) lost = 'beside the page'
    if (lost) found.push(`${e.tagName} ${(e.textContent || e.ariaLabel || '').trim().replace(/\s+/g, ' ').slice(0, 30)}: ${lost}`)
  }
  return found
}
