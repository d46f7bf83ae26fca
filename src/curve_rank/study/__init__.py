"""What an educator does with judgements: compare, step, improve, price faults, weigh claims, learn."""
