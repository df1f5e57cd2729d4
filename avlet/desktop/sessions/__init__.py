"""Open documents as the benches see them: observable, without widgets."""
