package mesh

import "testing"

// TestPoses turns a body in every way that is offered: it stays sound, keeps its
// volume, and its axes end where they should.
func TestPoses(t *testing.T) {
	m := &Mesh{
		Step:  0.5,
		Verts: [][3]int32{{0, 0, 0}, {4, 0, 0}, {0, 6, 0}, {0, 0, 10}},
		Tris:  [][3]int32{{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {2, 0, 3}},
		Group: make([]Group, 4), Normals: [][3]float32{{0, 0, 1}, {0, 1, 0}},
	}
	was := Check(m, true)
	if !was.Sound() {
		t.Fatalf("the body itself: %+v", was)
	}
	for name, c := range map[string]struct {
		pose     Pose
		top, way [3]int32 // where (0, 6, 0) and (0, 0, 10) go
		normal   [3]float32
	}{
		"as it is":          {AsItIs, [3]int32{0, 6, 0}, [3]int32{0, 0, 10}, [3]float32{0, 0, 1}},
		"face down":         {FaceDown, [3]int32{0, -6, 0}, [3]int32{0, 0, -10}, [3]float32{0, 0, -1}},
		"upright":           {Upright, [3]int32{0, 0, 6}, [3]int32{0, -10, 0}, [3]float32{0, -1, 0}},
		"y up":              {YUp, [3]int32{0, 0, -6}, [3]int32{0, 10, 0}, [3]float32{0, 1, 0}},
		"upright with y up": {Upright.Then(YUp), [3]int32{0, 6, 0}, [3]int32{0, 0, 10}, [3]float32{0, 0, 1}},
		"down with y up":    {FaceDown.Then(YUp), [3]int32{0, 0, 6}, [3]int32{0, -10, 0}, [3]float32{0, -1, 0}},
	} {
		out := c.pose.Apply(m)
		if r := Check(out, true); !r.Sound() || r.VolumeMM3 != was.VolumeMM3 {
			t.Errorf("%s: %+v", name, r)
		}
		for k := range 3 {
			if out.Verts[2][k] != c.top[k] || out.Verts[3][k] != c.way[k] || out.Normals[0][k] != c.normal[k] {
				t.Errorf("%s: %v, %v, normal %v", name, out.Verts[2], out.Verts[3], out.Normals[0])
				break
			}
		}
		moved := c.pose
		moved.Move = [3]int32{1, 2, 3}
		if v := moved.Apply(m).Verts[0]; v != [3]int32{1, 2, 3} {
			t.Errorf("%s: moved to %v", name, v)
		}
	}
	if m.Verts[2] != [3]int32{0, 6, 0} {
		t.Error("the mesh itself was changed")
	}
}
