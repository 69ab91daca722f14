"""Practice: the cell and the bench against made faults, judged by the learner before the software says what it sees."""
