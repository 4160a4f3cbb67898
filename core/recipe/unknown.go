package recipe

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
)

// Documents may hold fields that this program does not know: someone else's, or
// those of a later program of the same version. They are lifted out when a
// document is opened and put back where they were when it is saved, as long as
// what they belonged to is still there.

// whole is a field that is not known, with all that it holds.
type whole struct{ value any }

// unknownFields returns the fields of a document that Recipe lacks, as a tree
// of maps with wholes at its ends.
func unknownFields(tree map[string]any) map[string]any {
	rest, _ := lift(tree, reflect.TypeFor[fields]()).(map[string]any)
	return rest
}

// lift returns what raw holds beyond type t, or nil.
func lift(raw any, t reflect.Type) any {
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	out := map[string]any{}
	put := func(key string, rest any) {
		if rest != nil {
			out[key] = rest
		}
	}
	switch raw := raw.(type) {
	case map[string]any:
		known := fieldTypes(t)
		for k, v := range raw {
			switch {
			case t.Kind() == reflect.Map:
				put(k, lift(v, t.Elem()))
			case t.Kind() != reflect.Struct:
			case known[k] == nil:
				out[k] = whole{v}
			default:
				put(k, lift(v, known[k]))
			}
		}
	case []any:
		if t.Kind() == reflect.Slice {
			for _, v := range raw {
				put(identity(v), lift(v, t.Elem()))
			}
		}
	}
	delete(out, "")
	if len(out) == 0 {
		return nil
	}
	return out
}

// putBack adds lifted fields to a document.
func putBack(tree any, rest map[string]any) {
	switch tree := tree.(type) {
	case map[string]any:
		for k, v := range rest {
			if w, ok := v.(whole); ok {
				tree[k] = w.value
			} else if own, ok := tree[k]; ok {
				putBack(own, v.(map[string]any))
			}
		}
	case []any:
		for _, v := range tree {
			if own, ok := rest[identity(v)].(map[string]any); ok {
				putBack(v, own)
			}
		}
	}
}

// identity returns what an entry of a list is known by.
func identity(v any) string {
	m, _ := v.(map[string]any)
	for _, k := range []string{"id", "slot", "key", "file"} {
		if id, ok := m[k]; ok {
			return fmt.Sprint(id)
		}
	}
	return ""
}

// fieldTypes returns the types of a struct's fields by their names in JSON.
func fieldTypes(t reflect.Type) map[string]reflect.Type {
	if t.Kind() != reflect.Struct {
		return nil
	}
	out := map[string]reflect.Type{}
	for i := range t.NumField() {
		f := t.Field(i)
		if name, _, _ := strings.Cut(f.Tag.Get("json"), ","); name != "" && f.IsExported() {
			out[name] = f.Type
		}
	}
	return out
}

// firstUnknown returns the path of the first field of rest in the order of the
// alphabet, or "".
func firstUnknown(rest map[string]any, path string) string {
	for _, k := range slices.Sorted(maps.Keys(rest)) {
		if sub, ok := rest[k].(map[string]any); ok {
			if found := firstUnknown(sub, path+k+"."); found != "" {
				return found
			}
			continue
		}
		return path + k
	}
	return ""
}
