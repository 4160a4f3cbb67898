package web

import (
	"fmt"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"bildhauer/core/recipe"
)

// TestManyParts opens a piece of a thousand parts, all of its colours kept: its list makes the rows that
// are in sight, as it is scrolled and by the arrow keys, and what is picked elsewhere comes into sight.
func TestManyParts(t *testing.T) {
	s := run(t, t.TempDir(), false)
	var b strings.Builder
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400">`)
	const parts = 1040
	for i := range parts {
		fmt.Fprintf(&b, `<path fill="#%06x" d="M%d %dh5v5h-5z"/>`, 0x102030+i*97, i%33*10, i/33*10)
	}
	b.WriteString("</svg>")
	id := s.made("tiles.svg", b.String())
	s.change(id, "All colours kept", &recipe.SetParts{Palette: &recipe.Palette{}})
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	rows := "[...document.querySelectorAll('#parts [data-part]')]"
	w.wait(rows + ".length > 10 && " + rows + ".length < 60 && " + rows + "[0].textContent.includes('1040 of 1040')")
	w.js("document.getElementById('parts').scrollTop = 1e6")
	w.wait(rows + ".at(-1)?.dataset.part === '" + fmt.Sprintf("c%06x", 0x102030+(parts-1)*97) + "' && " + rows + ".length < 60")
	w.js(rows + ".at(-1).click()")
	w.wait(rows + ".at(-1).classList.contains('on')")
	w.js(rows + ".at(-1).querySelector('.partpick').focus()")
	for range 12 {
		w.do(chromedp.KeyEvent(kb.ArrowUp))
	}
	w.wait("document.activeElement.closest('[data-part]')?.dataset.part === '" + fmt.Sprintf("c%06x", 0x102030+(parts-13)*97) + "'")
	w.js("document.querySelector('.standtools [data-view=front]').click()")
	w.js("document.getElementById('parts').scrollTop = 0")
	w.wait(rows + "[0].textContent.includes('1040 of 1040')")
	w.js("import('/static/js/frame/piece.js').then(({ piece }) => piece.select('" + fmt.Sprintf("c%06x", 0x102030+500*97) + "', 'only'))")
	w.wait("document.querySelector('#parts .part.on')?.dataset.part === '" + fmt.Sprintf("c%06x", 0x102030+500*97) + "'")
}
