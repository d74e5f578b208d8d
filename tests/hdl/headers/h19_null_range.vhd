--= top m
--= caution not-plannable
--= port clk in std_logic
entity m is generic (extra : natural := 0); port (clk : in std_logic; more : in std_logic_vector(extra - 1 downto 0)); end m;
