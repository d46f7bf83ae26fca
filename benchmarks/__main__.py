"""All benchmarks in turn: `python -m benchmarks`, or `make bench`."""

from benchmarks import coach, desk, drag, draws, house, interactive, paints, phone, sharing, teach, training

if __name__ == "__main__":
    for benchmark in (sharing, interactive, desk, teach, coach, training, phone, paints, drag, house, draws):
        print(f"\n{benchmark.__name__.rpartition('.')[2]}")
        benchmark.main([])
