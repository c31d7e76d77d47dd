"""Games by the ten thousand, outside the server's process: what is played (`batches`), by whom (`makers`), and the process that adds up."""
