package recipe

import (
	"encoding/json"
	"errors"
	"strings"
)

// OfMover stands for whatever makes a move, in moves that are kept by a name.
const OfMover = "mover"

// Move is a move that is kept by a name and can be given to any part of any piece: tracks and a path of OfMover, and
// what the camera, the scene and lamps do along with it. Its frames count from 0.
type Move struct {
	Name   string
	Motion Motion
}

// Document returns the move as a recipe that has nothing but it.
func (m Move) Document() ([]byte, error) {
	r := New()
	r.Name, r.Scene.Motion = strings.TrimSpace(m.Name), m.Motion
	switch {
	case r.Name == "":
		return nil, errors.New("a move is kept under a name")
	case len(m.Motion.Tracks) == 0:
		return nil, errors.New("nothing moves in it")
	}
	if err := r.Check(); err != nil {
		return nil, err
	}
	type scene struct {
		Motion Motion `json:"motion"`
	}
	return json.MarshalIndent(struct {
		Version int    `json:"version"`
		Name    string `json:"name"`
		Scene   scene  `json:"scene"`
	}{Version, r.Name, scene{r.Scene.Motion}}, "", "  ")
}

// OpenMove reads a move from a recipe.
func OpenMove(data []byte) (Move, error) {
	r, err := Open(data)
	if err != nil {
		return Move{}, err
	}
	out := Move{Name: r.Name, Motion: r.Scene.Motion}
	_, err = out.Document()
	return out, err
}
