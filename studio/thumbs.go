package studio

import (
	"context"
	"sync"
	"time"
)

// thumbPause is how long a piece rests before its little picture is drawn: while somebody drags, nobody
// looks at it.
const thumbPause = 700 * time.Millisecond

// thumbs draws little pictures after pieces were saved, the newest of each piece.
type thumbs struct {
	mu   sync.Mutex
	last map[string]int64 // revisions that wait to be drawn
}

// DrawLater draws the little picture of a piece in a while, unless it has changed again by then, and keeps it.
func (s *Studio) DrawLater(p Piece, draw func(ctx context.Context) ([]byte, error)) {
	s.thumbs.mu.Lock()
	if s.thumbs.last == nil {
		s.thumbs.last = map[string]int64{}
	}
	waiting := s.thumbs.last[p.ID] == p.Rev
	s.thumbs.last[p.ID] = p.Rev
	s.thumbs.mu.Unlock()
	if waiting {
		return
	}
	s.besides.Go(func() {
		select {
		case <-s.ctx.Done():
			return
		case <-time.After(thumbPause):
		}
		s.thumbs.mu.Lock()
		mine := s.thumbs.last[p.ID] == p.Rev
		if mine {
			delete(s.thumbs.last, p.ID)
		}
		s.thumbs.mu.Unlock()
		if !mine {
			return
		}
		if have, err := s.store.Picture(s.ctx, p.ID, p.Rev); have != nil || err != nil {
			return
		}
		if svg, err := draw(s.ctx); err == nil && svg != nil { // else it is drawn when somebody asks for it
			s.store.KeepPicture(s.ctx, p.ID, p.Rev, svg)
		}
	})
}

// Thumb returns the little picture of a piece: the one that is kept, or a new one, which is kept then.
func (s *Studio) Thumb(ctx context.Context, p Piece, draw func(ctx context.Context) ([]byte, error)) ([]byte, error) {
	if have, err := s.store.Picture(ctx, p.ID, p.Rev); have != nil || err != nil {
		return have, err
	}
	svg, err := draw(ctx)
	if err == nil && svg != nil {
		s.store.KeepPicture(ctx, p.ID, p.Rev, svg) // a picture that is not kept is drawn again
	}
	return svg, err
}
