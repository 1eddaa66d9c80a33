"""What a ladder comes to in numbers: judgement, forecast, what is still likely."""
