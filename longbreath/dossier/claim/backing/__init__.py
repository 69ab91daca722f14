"""What a statement rests on, kind by kind: from the records to facts, setting, grounds of the gates, and what its sheet shows."""
