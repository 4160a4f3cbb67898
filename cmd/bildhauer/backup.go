package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"bildhauer/store"
)

// backupCommand copies all that a data folder holds into one file.
func backupCommand() *cobra.Command {
	var data, out string
	c := command("backup --data DIR -o FILE", "Copies all pieces into one file", "The application may run meanwhile.", noFiles,
		func(c *cobra.Command, _ []string) error {
			if data == "" || out == "" {
				return wrong("backup needs --data DIR and -o FILE")
			}
			if err := store.Backup(c.Context(), data, out); err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is a copy of all that is in %s\n", out, data)
			return nil
		})
	c.Flags().StringVar(&data, "data", "", "The `DIR` where pieces are kept.")
	c.Flags().StringVarP(&out, "out", "o", "", "The `FILE` to write.")
	return c
}

// restoreCommand makes a data folder of a backup.
func restoreCommand() *cobra.Command {
	var data string
	c := command("restore FILE --data DIR", "Makes a data folder of a backup", "", cobra.ArbitraryArgs,
		func(c *cobra.Command, files []string) error {
			if data == "" || len(files) != 1 {
				return wrong("restore needs one FILE and --data DIR, a folder that is not there yet")
			}
			if err := store.Restore(c.Context(), files[0], data); err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is restored into %s\n", files[0], data)
			return nil
		})
	c.Flags().StringVar(&data, "data", "", "The `DIR` to make.")
	return c
}
