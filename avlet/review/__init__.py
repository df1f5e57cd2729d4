"""Looking a template over: samples and what is wrong with them."""
