--= top m
--= port a in std_logic
--= port b in std_logic_vector 3:0
entity m is port (a : in std_logic := '0'; b : in std_logic_vector(3 downto 0) := (others => '1')); end m;
