--= top m
--= port a in std_logic_vector 9:0
--= port b in std_logic_vector 31:0
--= port c in std_logic_vector 3:0
--= port d in std_logic_vector 15:0
--= port e in std_logic_vector 1:0
entity m is
  generic (n : integer := 1000; code : integer := 16#10#);
  port (a : in std_logic_vector(integer(ceil(log2(real(n)))) - 1 downto 0);
        b : in std_logic_vector(2**5 - 1 downto 0);
        c : in std_logic_vector((-5) mod 4 downto abs(0)) ;
        d : in std_logic_vector(code - 1 downto 0);
        e : in std_logic_vector(maximum(1, -2*n) downto 0));
end m;
