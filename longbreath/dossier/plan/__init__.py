"""Plan: variants, test cards, what they promise, what a day of them takes and costs."""
