"""What the steps share: transaction, guard, forms, figures, errors, frame, templates."""
