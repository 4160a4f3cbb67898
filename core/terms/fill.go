package terms

import (
	"reflect"
	"strings"
)

// Fill gives the tagged fields of a struct what is usual: figures theirs, choices their first option.
func Fill(of any) {
	v := reflect.ValueOf(of).Elem()
	for i := range v.NumField() {
		tag := v.Type().Field(i).Tag
		if name, ok := tag.Lookup("figure"); ok {
			usual := Of(strings.TrimSuffix(name, ",zero")).Usual
			if v.Field(i).Kind() == reflect.Int {
				v.Field(i).SetInt(int64(usual))
			} else if v.Field(i).Kind() == reflect.Float64 {
				v.Field(i).SetFloat(usual)
			}
		}
		if name, ok := tag.Lookup("choice"); ok {
			v.Field(i).SetString(Names(strings.TrimSuffix(name, ",zero"))[0])
		}
	}
}
