--= top board
--= port clk in std_logic
entity leaf is port (c : in std_logic); end leaf;
architecture rtl of leaf is begin end rtl;
entity second is port (c : in std_logic); end second;
architecture rtl of second is begin end rtl;
entity board is port (clk : in std_logic); end board;
architecture rtl of board is
  component second port (c : in std_logic); end component;
begin
  u1 : entity work.leaf port map (c => clk);
  u2 : second port map (c => clk);
end rtl;
