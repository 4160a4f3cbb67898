package terms

import (
	"fmt"
	"reflect"
	"strings"
)

// CheckTags checks a struct by the tags of its fields:
//
//	figure:"depth"       a number within the limits of that figure; ",zero" lets 0 stand for what is usual
//	count:"sheets"       a list, a map or a text with no more than so many entries or bytes
//	choice:"direction"   one of the names of that choice; ",zero" lets "" stand for the first
//
// It looks at the fields of the struct itself, and of structs within it that have no Check of their
// own; lists are for the caller to walk, who knows how to name their entries.
func CheckTags(of any) error {
	v := reflect.ValueOf(of)
	for v.Kind() == reflect.Pointer {
		if v.IsNil() {
			return nil
		}
		v = v.Elem()
	}
	for i := range v.NumField() {
		if err := checkField(v.Type().Field(i).Tag, v.Field(i)); err != nil {
			return err
		}
	}
	return nil
}

func checkField(tag reflect.StructTag, v reflect.Value) error {
	if name, ok := tag.Lookup("figure"); ok {
		name, zero := strings.CutSuffix(name, ",zero")
		return checkFigure(Of(name), zero, v)
	}
	if name, ok := tag.Lookup("count"); ok {
		return Of(name).Check(float64(v.Len()))
	}
	if name, ok := tag.Lookup("choice"); ok {
		name, zero := strings.CutSuffix(name, ",zero")
		if zero && v.String() == "" {
			return nil
		}
		return Pick(name).Check(v.String())
	}
	if _, ok := tag.Lookup("within"); ok {
		return CheckTags(v.Addr().Interface())
	}
	return nil
}

func checkFigure(f Figure, zero bool, v reflect.Value) error {
	switch v.Kind() {
	case reflect.Array:
		for i := range v.Len() {
			if err := checkFigure(f, zero, v.Index(i)); err != nil {
				return err
			}
		}
		return nil
	case reflect.Int:
		return checkNumber(f, zero, float64(v.Int()))
	case reflect.Float64:
		return checkNumber(f, zero, v.Float())
	}
	panic(fmt.Sprintf("terms: a %s is no figure", v.Kind()))
}

func checkNumber(f Figure, zero bool, v float64) error {
	if zero && v == 0 {
		return nil
	}
	return f.Check(v)
}
