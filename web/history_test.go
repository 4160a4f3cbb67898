package web

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// TestHistoryIsWalked makes three changes and goes through them in the list: each step has a picture, later ones stay to
// be done again, and a change in between takes them away.
func TestHistoryIsWalked(t *testing.T) {
	s := run(t, t.TempDir(), false)
	id := s.made("plate.svg", disc)
	w := open(t, s.address+"/pieces/"+id+"/raise")
	w.wait(settled)
	first := s.document(id)
	w.set("depth", "6")
	w.undoTells("Depth")
	w.set("segments", "9")
	w.undoTells("Segments")
	w.js("document.querySelector('[data-profile=cove]').click()")
	w.undoTells("Profile")
	last := s.document(id)
	w.js("document.activeElement.blur()")
	w.key("H", shiftKey)
	steps := func(n int, now string) {
		t.Helper()
		w.wait(fmt.Sprintf("document.querySelector('dialog.history').dataset.steps === '%d' && "+
			"document.querySelector('.historylist [aria-current=step] b').textContent.startsWith(%q) && document.activeElement.ariaCurrent === 'step'", n, now))
	}
	steps(4, "Profile")
	w.wait("[...document.querySelectorAll('.historylist img')].every((i) => i.complete && i.naturalWidth > 0)")
	// By keys to the first one: all is as it was, and what came after can be done again.
	w.key(kb.End)
	w.key(enterKey)
	w.wait("document.querySelectorAll('.historylist .undone').length === 3 && document.getElementById('undo').title === 'Nothing to undo'")
	if s.document(id) != first {
		t.Error("the first step is another one than it was")
	}
	w.key(kb.Home)
	w.key(enterKey)
	steps(4, "Profile")
	if s.document(id) != last {
		t.Error("the last step is another one than it was")
	}
	w.js("document.querySelectorAll('.historylist button')[1].click()")
	steps(4, "Segments")
	w.key(escapeKey)
	w.wait("!document.querySelector('dialog.history')")
	w.set("depth", "7")
	w.undoTells("Depth")
	w.click("#history")
	steps(4, "Depth")
	if got := w.text("[...document.querySelectorAll('.historylist b')].map((b) => b.textContent.split(' ')[0]).join(' ')"); got != "Depth Segments Depth Artwork" {
		t.Errorf("the history: %s", got)
	}
	// A step that another window has left behind is refused with a sentence.
	if code, text := s.client().post("/pieces/"+id+"/history/1?base=1", ""); code != 409 {
		t.Errorf("from a revision that is not in force: %d %s", code, text)
	}
}
