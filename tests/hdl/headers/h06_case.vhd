--= top Top
--= port Clk in std_logic
--= port DATA out std_logic_vector 3:0
ENTITY Top IS
  GENERIC (N : INTEGER := 4);
  PORT (Clk : IN STD_LOGIC; DATA : OUT Std_Logic_Vector(n-1 DOWNTO 0));
END Top;
