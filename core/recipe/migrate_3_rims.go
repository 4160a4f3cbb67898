package recipe

import "errors"

// rimsApart turns version 3 into version 4, in which front and back have a bevel
// each. Before, there was one, which the back had as well or not.
func rimsApart(tree map[string]any) (map[string]any, error) {
	parts, _ := tree["parts"].(map[string]any)
	if base, ok := parts["default"].(map[string]any); ok {
		if err := rimsOf(base); err != nil {
			return nil, err
		}
	}
	list, _ := parts["list"].([]any)
	for _, p := range list {
		part, _ := p.(map[string]any)
		if how, ok := part["how"].(map[string]any); ok {
			if err := rimsOf(how); err != nil {
				return nil, err
			}
		}
	}
	return tree, nil
}

// rimsOf moves the bevel of one part's measures. What is missing stays missing.
func rimsOf(how map[string]any) error {
	front, back := map[string]any{}, map[string]any{}
	bevelled := how["back"] == "bevel"
	if b := how["back"]; b != nil && b != "flat" && !bevelled {
		return errors.New("the back is flat or bevelled (\"flat\", \"bevel\")")
	}
	for from, to := range map[string]string{
		"bevelWidth": "width", "bevelHeight": "height", "profile": "profile", "segments": "segments",
	} {
		if v, ok := how[from]; ok {
			back[to] = v
		}
		move(how, from, front, to)
	}
	if !bevelled {
		back["width"], back["height"] = 0, 0
	}
	delete(how, "back")
	if len(front) > 0 {
		how["front"] = front
	}
	how["back"] = back
	return nil
}
