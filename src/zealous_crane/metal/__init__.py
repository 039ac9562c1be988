"""Sheet metals: strengths, gauge tables, bend allowance methods, springback, tolerances."""
