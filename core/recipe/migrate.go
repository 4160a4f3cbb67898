package recipe

import (
	"encoding/json"
	"fmt"
)

// migrations[n] turns a document of version n+1 into one of version n+2. A
// migration moves values and never decides; it gets the whole document and may
// change it. Fields that it does not name must come through.
var migrations = []func(tree map[string]any) (map[string]any, error){
	sectionsForSteps,
	mendsBegin,
	rimsApart,
	reliefByOverlap,
}

// migrate brings a document to Version. One without a version is of the first,
// which is the only one that people wrote without.
func migrate(tree map[string]any) (map[string]any, error) {
	version, err := versionOf(tree)
	if err != nil {
		return nil, err
	}
	if version > Version {
		return nil, fmt.Errorf(
			"%w (version %d, this one knows %d). Open it with that one",
			ErrNewer,
			version,
			Version,
		)
	}
	for ; version < Version; version++ {
		if tree, err = migrations[version-1](tree); err != nil {
			return nil, err
		}
	}
	tree["version"] = Version
	return tree, nil
}

// versionOf returns the version of a document; the first one wrapped its recipe.
func versionOf(tree map[string]any) (int, error) {
	if inner, ok := tree["recipe"].(map[string]any); ok && tree["version"] == nil {
		tree = inner
	}
	switch v := tree["version"].(type) {
	case nil:
		return 1, nil
	case json.Number:
		if n, err := v.Int64(); err == nil && n >= 1 && n < 1<<31 {
			return int(n), nil
		}
	}
	return 0, fmt.Errorf("the recipe's version %v is none", tree["version"])
}
