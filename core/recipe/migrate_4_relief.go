package recipe

import "encoding/json"

// reliefByOverlap turns version 4 into version 5, in which parts step up by what they lie
// on. Before, each was a step deeper than the one painted before it; the step stays.
func reliefByOverlap(tree map[string]any) (map[string]any, error) {
	parts, _ := tree["parts"].(map[string]any)
	step, ok := parts["relief"]
	if !ok {
		return tree, nil
	}
	delete(parts, "relief")
	if n, _ := step.(json.Number); n != "" && n != "0" {
		parts["relief"] = map[string]any{"step": step}
	}
	return tree, nil
}
