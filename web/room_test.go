package web

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
)

// cutOff lists what people read or press and is not all within what can be seen of its row: it lies beyond
// the window, or beyond a box that hides it and can't be scrolled that way.
const cutOff = `JSON.stringify([...document.querySelectorAll('button, a[href], select, input, b, label, dd, td, th, h1, h2')]
	.filter(e => e.checkVisibility({visibilityProperty: true, opacityProperty: true}) && !e.closest('dialog, #messages, thead, .treerow, .vh, [aria-hidden=true]'))
	.filter(e => {
		const r = e.getBoundingClientRect();
		if (r.width < 2 || r.height < 2 || getComputedStyle(e).clipPath !== 'none') return false;
		let left = 0, right = innerWidth;
		for (let a = e.parentElement; a && a !== document.body; a = a.parentElement) {
			const s = getComputedStyle(a), b = a.getBoundingClientRect();
			if (s.clipPath !== 'none') return false;
			if (s.overflowX === 'hidden' || s.overflowX === 'clip') { left = Math.max(left, b.left); right = Math.min(right, b.right); }
			else if (s.overflowX !== 'visible') return r.right > Math.min(right, b.right) + 1 || r.left < Math.max(left, b.left) - 1;
		}
		return r.right > right + 1 || r.left < left - 1;
	}).map(e => e.outerHTML.slice(0, 120)))`

// TestNothingIsCutOff looks at each step in windows from a small one, and one at 150%, to a large one.
func TestNothingIsCutOff(t *testing.T) {
	s := run(t, t.TempDir(), true)
	id := s.id("Compass badge")
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	for i, step := range []string{"intake", "mend", "size", "raise", "show", "release"} {
		w.key(fmt.Sprint(i + 1))
		w.showsStep(step)
		for _, size := range [][2]int64{{853, 533}, {1024, 700}, {1280, 800}, {1920, 1080}, {2560, 1440}} {
			w.do(chromedp.EmulateViewport(size[0], size[1]))
			w.wait(fmt.Sprintf("innerWidth === %d", size[0]))
			var cut []string
			if err := json.Unmarshal([]byte(w.text(cutOff)), &cut); err != nil {
				t.Fatal(err)
			}
			if len(cut) > 0 {
				t.Errorf("%s at %d by %d:\n%s", step, size[0], size[1], strings.Join(cut, "\n"))
			}
		}
	}
}
