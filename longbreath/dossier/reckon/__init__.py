"""What Reckon asks of an application: questions answered from records, candidates, predictions and their scores."""
