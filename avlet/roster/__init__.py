"""One template, a table, many films: columns that lead to fields, rows that are answers, and what is delivered."""
