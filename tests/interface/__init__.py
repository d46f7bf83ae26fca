"""The public interface: its surface, its answers, its types."""
