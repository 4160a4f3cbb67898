package recipe

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"bildhauer/core/terms"
)

// Scene is how the piece is shown. What is empty is as the program would have it.
type Scene struct {
	Paints       []Paint      `json:"paints,omitempty" count:"paints"`           // materials; later ones lie over earlier ones
	Own          []Material   `json:"own,omitempty" count:"saved"`               // materials kept by their names
	Lamps        []Lamp       `json:"lamps,omitempty" count:"lamps"`             // lights; none: those of Setting
	Setting      string       `json:"setting,omitempty" choice:"setting,zero"`   // one of Settings
	Surroundings Surroundings `json:"surroundings,omitzero" within:""`           // what lights from all around and is mirrored
	Backdrop     Backdrop     `json:"backdrop,omitzero" within:""`               // what is behind the piece
	Camera       Camera       `json:"camera,omitzero"`                           // where from it is seen
	Cameras      []Camera     `json:"cameras,omitempty" count:"saved"`           // kept by their names
	Motion       Motion       `json:"motion,omitzero"`                           // how it changes over time
	Exposure     float64      `json:"exposure,omitempty" figure:"exposure"`      // stops
	Contrast     string       `json:"contrast,omitempty" choice:"contrast,zero"` // one of Contrasts
}

// Paint gives faces a material.
type Paint struct {
	Part     string   `json:"part,omitempty"`                 // "" for all
	Faces    string   `json:"faces,omitempty" choice:"faces"` // one of FaceGroups
	Material Material `json:"material"`                       // what they are made of
}

// Material is how a surface treats light, in the terms of glTF's metal and roughness.
type Material struct {
	Name      string  `json:"name,omitempty"`                         // of a ready or kept one
	Color     string  `json:"color,omitempty"`                        // #rrggbb; "" for that of the artwork
	Metal     float64 `json:"metal,omitempty" figure:"metal"`         // 0 to 1
	Rough     float64 `json:"rough" figure:"rough"`                   // 0 a mirror to 1 matt
	Coat      float64 `json:"coat,omitempty" figure:"coat"`           // of clear lacquer, 0 to 1
	CoatRough float64 `json:"coatRough,omitempty" figure:"coatRough"` // of that, 0 to 1
	Glow      float64 `json:"glow,omitempty" figure:"glow"`           // light given off, as a multiple of white
	Clear     float64 `json:"clear,omitempty" figure:"clear"`         // how much light is let through, 0 to 1
	Index     float64 `json:"index,omitempty" figure:"index,zero"`    // of refraction; 0 for 1.5
	Deep      float64 `json:"deep,omitempty" figure:"deep,zero"`      // mm of way inside after which light has the colour; 0 for 5
	Thin      bool    `json:"thin,omitempty"`                         // walls without an inside: light goes straight on
	Drawn     bool    `json:"drawn,omitempty"`                        // fronts have the gradients of the artwork
	Grain     float64 `json:"grain,omitempty" figure:"grain"`         // size of the grains of the surface, mm; 0 for smooth
	Brushed   bool    `json:"brushed,omitempty"`                      // the grain is drawn out to scratches
	BrushTurn float64 `json:"brushTurn,omitempty" figure:"brushTurn"` // direction of these, degrees up from the right
}

// Lamp is a light.
type Lamp struct {
	Kind     string     `json:"kind" choice:"lamp"`                    // one of LampKinds
	Name     string     `json:"name,omitempty"`                        // as lists call it
	At       [3]float64 `json:"at" figure:"place"`                     // mm from the middle of the piece: right, up, toward the eye
	Aim      [3]float64 `json:"aim,omitzero" figure:"place"`           // where it looks, mm
	Size     [2]float64 `json:"size,omitzero" figure:"place"`          // of a panel, or the diameter of a spot, mm
	Angle    float64    `json:"angle,omitempty" figure:"lamp.cone"`    // of a spot's cone or of the sun's disc, degrees across
	Color    string     `json:"color,omitempty"`                       // #rrggbb; "" for that of Kelvin
	Kelvin   float64    `json:"kelvin,omitempty" figure:"lamp.kelvin"` // 0 for white
	Strength float64    `json:"strength" figure:"lamp.strength"`       // stops; 0 lights a white surface at Aim fully
	Off      bool       `json:"off,omitempty"`                         // it is kept, but dark
}

// Surroundings light from all around.
type Surroundings struct {
	Name     string  `json:"name,omitempty"`                           // one of SurroundingNames
	File     string  `json:"file,omitempty"`                           // of an own panorama, its id; the name is that of the file then
	Turn     float64 `json:"turn,omitempty" figure:"sky.turn"`         // degrees about the upright axis
	Strength float64 `json:"strength,omitempty" figure:"sky.strength"` // stops
}

// Backdrop is what is behind the piece.
type Backdrop struct {
	Kind   string `json:"kind,omitempty" choice:"backdrop,zero"` // one of Backdrops
	Color  string `json:"color,omitempty"`                       // #rrggbb
	Below  string `json:"below,omitempty"`                       // #rrggbb at the foot of a gradient
	Shadow bool   `json:"shadow,omitempty"`                      // on a clear ground the piece throws its shadow
}

// Camera is where from the piece is seen, and through which lens.
type Camera struct {
	Name     string     `json:"name,omitempty"`                              // under which it is kept
	Aspect   string     `json:"aspect,omitempty"`                            // width to height, as 16:9
	Focal    float64    `json:"focal,omitempty" figure:"camera.focal,zero"`  // mm of a film 36 mm wide; 0 for 70
	Turn     float64    `json:"turn,omitempty" figure:"camera.turn"`         // degrees to the right
	Height   float64    `json:"height,omitempty" figure:"camera.height"`     // degrees up
	Distance float64    `json:"distance,omitempty" figure:"camera.distance"` // mm; 0 so that the piece fits
	Shift    [2]float64 `json:"shift,omitzero" figure:"camera.shift.x"`      // shares of the picture's width, right and up
	Level    float64    `json:"level,omitempty" figure:"camera.level"`       // degrees by which it leans
	Margin   float64    `json:"margin,omitempty" figure:"camera.margin"`     // share of the picture that stays free when it fits
	Blur     float64    `json:"blur,omitempty" figure:"camera.blur"`         // f-number; 0 for all sharp
	Look     string     `json:"look,omitempty"`                              // the part that it looks at, wherever that goes; "" for the middle of the piece
}

func (s Scene) clone() Scene {
	s.Paints, s.Lamps, s.Motion = slices.Clone(s.Paints), slices.Clone(s.Lamps), s.Motion.clone()
	s.Own, s.Cameras = slices.Clone(s.Own), slices.Clone(s.Cameras)
	return s
}

func (s *Scene) check() error {
	if err := terms.CheckTags(s); err != nil {
		return err
	}
	if name := s.Surroundings.ready(); name != "" {
		if err := terms.Pick("surroundings").Check(name); err != nil {
			return err
		}
	}
	if err := checkColor("The backdrop", s.Backdrop.Color); err != nil {
		return err
	}
	if err := checkColor("The foot of the backdrop", s.Backdrop.Below); err != nil {
		return err
	}
	if err := s.checkKept(); err != nil {
		return err
	}
	for i := range s.Paints {
		if err := s.Paints[i].check(); err != nil {
			return err
		}
	}
	for i := range s.Lamps {
		if err := s.Lamps[i].check(); err != nil {
			return err
		}
	}
	if err := s.Motion.check(); err != nil {
		return err
	}
	return s.Camera.check()
}

// checkKept checks what is kept by names: each has one of its own.
func (s *Scene) checkKept() error {
	once := func(what, name string, seen map[string]bool) error {
		if name == "" || seen[name] {
			return fmt.Errorf("%s is kept under a name that no other has, not %.60q", what, name)
		}
		seen[name] = true
		return checkName("A name", name)
	}
	seen := map[string]bool{}
	for i := range s.Own {
		if err := once("a material", s.Own[i].Name, seen); err != nil {
			return err
		}
		if err := s.Own[i].check(); err != nil {
			return err
		}
	}
	seen = map[string]bool{}
	for i := range s.Cameras {
		if err := once("a camera", s.Cameras[i].Name, seen); err != nil {
			return err
		}
		if err := s.Cameras[i].check(); err != nil {
			return err
		}
	}
	return checkName("The surroundings' name", s.Surroundings.Name)
}

// ready returns the name of ready surroundings, "" for own ones.
func (s *Surroundings) ready() string {
	if s.File != "" {
		return ""
	}
	return s.Name
}

func checkColor(what, hex string) error {
	if hex == "" {
		return nil
	}
	if len(hex) != 7 || hex[0] != '#' || strings.Trim(hex[1:], "0123456789abcdefABCDEF") != "" {
		return fmt.Errorf("%s has the colour %.20q; a colour is written #rrggbb", what, hex)
	}
	return nil
}

func (p *Paint) check() error {
	if err := terms.CheckTags(p); err != nil {
		return err
	}
	return p.Material.check()
}

func (m *Material) check() error {
	if err := checkColor("A material", m.Color); err != nil {
		return err
	}
	if err := checkName("A material's name", m.Name); err != nil {
		return err
	}
	return terms.CheckTags(m)
}

func (l *Lamp) check() error {
	if err := checkColor("A lamp", l.Color); err != nil {
		return err
	}
	if err := checkName("A lamp's name", l.Name); err != nil {
		return err
	}
	if l.At == l.Aim {
		return errors.New("a lamp has to aim at something else than itself")
	}
	return terms.CheckTags(l)
}

func (c *Camera) check() error {
	if _, err := c.Ratio(); err != nil {
		return err
	}
	if err := checkName("A camera's name", c.Name); err != nil {
		return err
	}
	if err := checkName("The part that a camera looks at", c.Look); err != nil {
		return err
	}
	return terms.CheckTags(c)
}

// focal returns the focal length in mm.
func (c *Camera) focal() float64 {
	if c.Focal == 0 {
		return terms.Of("camera.focal").Usual
	}
	return c.Focal
}

// Lens returns the focal length in mm of a film 36 mm wide.
func (c *Camera) Lens() float64 { return c.focal() }

// Ratio returns width to height.
func (c *Camera) Ratio() (float64, error) {
	if c.Aspect == "" {
		return 16.0 / 9, nil
	}
	var w, h float64
	if n, err := fmt.Sscanf(c.Aspect, "%g:%g", &w, &h); err != nil || n != 2 || !(w > 0) || !(h > 0) {
		return 0, fmt.Errorf("the aspect %.20q is not width to height, as 16:9", c.Aspect)
	}
	if err := terms.Of("aspect").Check(w / h); err != nil {
		return 0, err
	}
	return w / h, nil
}

// Unmoved reports whether nobody has said from where the camera looks.
func (c *Camera) Unmoved() bool {
	return c.Turn == 0 && c.Height == 0 && c.Distance == 0 && c.Shift == [2]float64{}
}

// Decided reports whether anything was decided about how the piece is shown.
func (s *Scene) Decided() bool {
	return len(s.Paints)+len(s.Lamps)+len(s.Motion.Tracks) > 0 || s.Setting != "" || s.Surroundings != Surroundings{} ||
		s.Backdrop != Backdrop{} || s.Camera != Camera{}
}
