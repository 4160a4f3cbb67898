package show

import (
	"math"

	"bildhauer/core/geom"
	"bildhauer/core/picture"
	"bildhauer/core/recipe"
	"bildhauer/core/terms"
)

// fromTheSide is where from a piece is seen when nobody has chosen: so that its depth
// shows.
var fromTheSide = recipe.Camera{Turn: terms.Of("camera.turn").Usual, Height: terms.Of("camera.height").Usual}

// usualMargin is what stays free around a piece that fits.
var usualMargin = terms.Of("camera.margin").Usual

// camera places the camera.
func camera(c *recipe.Camera, b *box) picture.Camera {
	lens := *c
	if lens.Unmoved() {
		lens.Turn, lens.Height = fromTheSide.Turn, fromTheSide.Height
	}
	ratio, err := lens.Ratio()
	if err != nil {
		ratio = 16.0 / 9
	}
	sinT, cosT := math.Sincos(lens.Turn * math.Pi / 180)
	sinH, cosH := math.Sincos(lens.Height * math.Pi / 180)
	back := geom.Vec3{X: sinT * cosH, Y: sinH, Z: cosT * cosH} // from the piece to the eye
	mid := b.middle()
	far := lens.Distance
	if far == 0 {
		far = fitting(&lens, b, back, ratio)
	}
	out := picture.Camera{
		Eye: mid.Plus(far, back), Aim: mid, Roll: lens.Level * math.Pi / 180, Focal: lens.Lens(), Shift: lens.Shift, Focus: far,
	}
	if lens.Blur > 0 {
		// The opening grows with the distance, so that the same number blurs a sign as it
		// blurs a coin: f/1 is a twentieth of it.
		out.Aperture = far / (20 * lens.Blur)
	}
	return out
}

// fitting returns the distance at which all corners of the box are in the picture.
func fitting(c *recipe.Camera, b *box, back geom.Vec3, ratio float64) float64 {
	margin := c.Margin
	if margin == 0 {
		margin = usualMargin
	}
	up := geom.Vec3{Y: 1}
	if math.Abs(back.Y) > 0.9999 {
		up = geom.Vec3{Z: -1}
	}
	right := up.Cross(back).Unit()
	up = back.Cross(right)
	half := 18 / c.Lens() * (1 - 2*margin)
	far := 0.0
	for _, p := range b.corners() {
		d := p.Sub(b.middle())
		ahead := d.Dot(back) // nearer to the eye by so much
		far = math.Max(far, ahead+math.Abs(d.Dot(right))/half)
		far = math.Max(far, ahead+math.Abs(d.Dot(up))/(half/ratio))
	}
	return far
}
