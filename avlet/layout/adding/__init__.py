"""New parts: each already relates to what is selected."""
