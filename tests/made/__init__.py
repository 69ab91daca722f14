"""What tests make up: pulls of engines that do not exist, in the habits of many loggers, and what was said around them."""
