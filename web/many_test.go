package web

import (
	"fmt"
	"strings"
	"testing"
)

// TestManyParts opens a piece of more parts than a list has rows: it says how many more there are,
// and the others are there.
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
	w := open(t, s.address+"/pieces/"+id+"/size")
	w.showsStep("size")
	w.wait("document.querySelectorAll('[data-part]').length === 1001")
	got := w.text("[...document.querySelectorAll('p.hint')].map(p => p.textContent).find(x => x.includes('more'))")
	if !strings.HasPrefix(got, "and 40 more") {
		t.Errorf("the list ends with %q", got)
	}
}

// TestLongBuildsAreSaidBeforehand raises thirty parts of which each seems to take ten seconds: after
// some it is said how long all take, and the rest is raised only when somebody wants it.
func TestLongBuildsAreSaidBeforehand(t *testing.T) {
	s := run(t, t.TempDir(), false)
	w := open(t, s.address+"/pieces/"+s.made("plate.svg", disc)+"/size")
	w.showsStep("size")
	w.js(`import('/static/js/stand/solids.js').then(({ Solids }) => {
		let now = 0;
		const parts = [...Array(30).keys()].map((n) => ({ id: 'p' + n, host: 'p' + n, key: 'k' + n, name: 'Tile ' + n }));
		const piece = { state: { parts }, base: '', measure() {} };
		const stand = { put() {}, remove() {}, recolor() {}, settle() {} };
		const solids = new Solids(piece, stand);
		const real = performance.now.bind(performance);
		performance.now = () => real() + now;
		solids.fetch = async (id) => {
			now += 10_000;
			return { key: id.replace('p', 'k'), triangles: 1, bottom: 0, rise: 1, ms: 1, watertight: true };
		};
		window.solids = solids;
		solids.show();
	})`)
	w.wait("document.querySelector('.message-line')?.textContent.includes('the other 10 parts would take about')")
	if n := w.text("String(solids.have.size)"); n != "20" {
		t.Errorf("%s parts are raised before the answer", n)
	}
	w.click(".message-line button")
	w.wait("solids.have.size === 30 && !document.querySelector('.message-line')")
}
