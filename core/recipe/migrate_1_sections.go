package recipe

import (
	"maps"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// sectionsForSteps turns version 1 into version 2. The first version held the
// piece's name, sheets and fonts around a recipe whose decisions stood side by
// side, knew parts by their colour, and did not tell the key "2:lamp" of the
// first sheet from "lamp" of the second.
func sectionsForSteps(old map[string]any) (map[string]any, error) {
	out := map[string]any{}
	recipe := old
	if inner, ok := old["recipe"].(map[string]any); ok {
		recipe = inner
		sheets := map[string]any{}
		move(old, "sheets", sheets, "list")
		move(old, "fonts", sheets, "fonts")
		out["sheets"] = sheets
		move(old, "name", out, "name")
		delete(old, "recipe")
		maps.Copy(out, old) // what is not known stays
	}
	size, _ := recipe["size"].(map[string]any)
	if size == nil {
		size = map[string]any{}
	}
	move(recipe, "tolerance", size, "tolerance")
	move(recipe, "overlap", size, "overlap")
	intake := map[string]any{}
	move(recipe, "choice", intake, "choice")
	move(recipe, "edits", intake, "shapes")
	move(recipe, "groupNames", intake, "groupNames")
	move(recipe, "newGroups", intake, "newGroups")
	tellSlots(intake, slotsOf(out))
	parts := map[string]any{}
	move(recipe, "default", parts, "default")
	base, _ := parts["default"].(map[string]any)
	if byColor, ok := recipe["parts"].(map[string]any); ok {
		parts["list"] = partsOf(byColor, base)
	}
	for _, known := range []string{"version", "size", "parts"} {
		delete(recipe, known)
	}
	maps.Copy(out, recipe)
	out["size"], out["intake"], out["parts"] = size, intake, parts
	return out, nil
}

func move(from map[string]any, name string, to map[string]any, as string) {
	if v, ok := from[name]; ok && v != nil {
		to[as] = v
	}
	delete(from, name)
}

// partsOf lists the parts that were known by their colour. Their ids are those
// of parts that were not touched, so that links to them go on leading there.
func partsOf(byColor, base map[string]any) []any {
	var list []any
	for _, color := range slices.Sorted(maps.Keys(byColor)) {
		old, ok := byColor[color].(map[string]any)
		if !ok {
			continue
		}
		part := map[string]any{
			"id":    untouched + strings.TrimPrefix(color, "#"),
			"takes": map[string]any{"colors": []any{strings.ToLower(color)}},
		}
		move(old, "name", part, "name")
		move(old, "out", part, "out")
		how := map[string]any{}
		maps.Copy(how, defaultMeasures())
		maps.Copy(how, base)
		maps.Copy(how, old)
		part["how"] = how
		list = append(list, part)
	}
	return list
}

// defaultMeasures are the measures that the first version began with; a part's
// document might lack some.
func defaultMeasures() map[string]any {
	return map[string]any{
		"depth":       8,
		"bevelWidth":  1,
		"bevelHeight": 1,
		"profile":     "round",
		"segments":    4,
		"back":        "flat",
	}
}

var slotted = regexp.MustCompile(`^(\d+):`)

// slotsOf returns the slots of the sheets, 1 at least.
func slotsOf(doc map[string]any) map[int]bool {
	slots := map[int]bool{1: true}
	sheets, _ := doc["sheets"].(map[string]any)
	list, _ := sheets["list"].([]any)
	for _, s := range list {
		sheet, _ := s.(map[string]any)
		if n, err := strconv.Atoi(identity(sheet)); err == nil {
			slots[n] = true
		}
	}
	return slots
}

// tellSlots puts the slot before keys of the first sheet that look as if they
// began with one.
func tellSlots(intake map[string]any, slots map[int]bool) {
	for _, name := range []string{"choice", "shapes", "groupNames"} {
		byKey, _ := intake[name].(map[string]any)
		for k, v := range byKey {
			m := slotted.FindStringSubmatch(k)
			if m == nil {
				continue
			}
			if n, err := strconv.Atoi(m[1]); err != nil || n < 2 || !slots[n] {
				delete(byKey, k)
				byKey["1:"+k] = v
			}
		}
	}
}
