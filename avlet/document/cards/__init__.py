"""The card: its fields' order and answers, and the wires that lead from them to properties."""
