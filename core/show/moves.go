package show

import "bildhauer/core/recipe"

// Moves names the ready moves.
var Moves = []string{"turntable", "rise", "drop in", "swing open", "camera round"}

// Move returns the tracks of a ready move over so many frames, for the piece or a part that
// reaches so many mm from its middle; nil for a name that there is not.
func Move(name, of string, frames int, reach float64) []recipe.Track {
	end := float64(frames)
	track := func(what string, keys ...recipe.Key) recipe.Track {
		return recipe.Track{Of: of, What: what, Keys: keys}
	}
	key := func(share, value float64, ease string) recipe.Key {
		return recipe.Key{Frame: share * end, Value: value, Ease: ease}
	}
	switch name {
	case "turntable": // the frame after the last one is the first again
		return []recipe.Track{track("turn", key(0, 0, "even"), key(1, 360, ""))}
	case "rise":
		return []recipe.Track{track("up", key(0, -2*reach, "soft out"), key(0.8, 0, ""))}
	case "drop in":
		return []recipe.Track{
			track("up", key(0, 3*reach, "soft in"), key(0.5, 0, "")),
			track("size", key(0.5, 1, "both"), key(0.6, 0.94, "both"), key(0.75, 1, "")),
		}
	case "swing open":
		return []recipe.Track{track("turn", key(0, -90, "overshoot"), key(0.7, 0, ""))}
	case "camera round":
		return []recipe.Track{{Of: recipe.OfCamera, What: "turn", Keys: []recipe.Key{key(0, -40, "both"), key(1, 40, "")}}}
	}
	return nil
}

// Delayed gives a move to several parts, each so many frames after the one before.
func Delayed(ids []string, delay float64, move func(id string) []recipe.Track) []recipe.Track {
	var out []recipe.Track
	for i, id := range ids {
		for _, t := range move(id) {
			for k := range t.Keys {
				t.Keys[k].Frame += float64(i) * delay
			}
			out = append(out, t)
		}
	}
	return out
}
