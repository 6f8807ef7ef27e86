"""An overlap on paper."""
