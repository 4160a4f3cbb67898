package ps

import (
	"regexp"

	"bildhauer/core/artwork"
	"bildhauer/core/read/fault"
)

// pageComment begins each page of a document that keeps to the structuring conventions (DSC
// 3.0, section 4.5).
var pageComment = regexp.MustCompile(`(?m)(?:^|\r)%%Page: `)

// maxPages bounds the pages that are counted.
const maxPages = 10_000

// pages decides which page is painted; 0 is the first.
func (m *machine) pages(data []byte, page int) error {
	n := len(pageComment.FindAllIndex(data, maxPages))
	m.wanted = max(page, 1)
	m.silent = m.wanted > 1
	if n <= 1 {
		return nil // one page, or a program that does not say how many it has
	}
	if page > n {
		return fault.New("has %d pages; there is no page %d", n, page)
	}
	m.sheet.Pages, m.sheet.PageNumber = n, m.wanted
	m.sheet.Note(artwork.NotePages, "", n, m.wanted)
	return nil
}

// opShowpage ends a page: the page that is asked for ends the program, those before it
// leave nothing but what they defined.
func opShowpage(m *machine) error {
	m.shown++
	if m.shown >= m.wanted {
		m.done = true
		return nil
	}
	font := m.gs.font
	m.gs = newState()
	m.gs.font = font
	m.silent = m.shown+1 < m.wanted
	return nil
}
