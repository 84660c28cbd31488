"""What every page stands on: the policy of answers, drawing a template, reading forms, what a route asks for."""
