--= top dut
--= note simulation-only
--= port clk in std_logic
entity tb is end tb;
entity dut is port (clk : in std_logic); end dut;
architecture sim of tb is
  signal clk : std_logic := '0';
begin
  u : entity work.dut port map (clk => clk);
  clk <= not clk after 5 ns;
end sim;
