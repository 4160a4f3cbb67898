package main

import (
	"github.com/spf13/cobra"

	"bildhauer/notices"
)

// noticesCommand prints what of others is in the program, with the licences.
func noticesCommand() *cobra.Command {
	return command("notices", "Prints what others made of the program, and the licences", "", noFiles,
		func(c *cobra.Command, _ []string) error {
			list, err := notices.Read()
			if err != nil {
				return err
			}
			return list.Write(c.OutOrStdout())
		})
}
