"""The table: evenings planned, gone through step by step, and what is asked at the mat."""
